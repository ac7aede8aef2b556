/// <reference types="node" />
import { brotliCompressSync, gzipSync } from "node:zlib";

import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** Puts compressed copies beside every script and style, for the server to hand out. */
function compress(): Plugin {
  return {
    name: "compress",
    enforce: "post",
    generateBundle: {
      order: "post",
      handler(_, bundle) {
        for (const [fileName, file] of Object.entries(bundle)) {
          if (!/\.(js|css)$/.test(fileName)) continue;
          const plain = file.type === "chunk" ? file.code : file.source;
          this.emitFile({ type: "asset", fileName: `${fileName}.br`, source: brotliCompressSync(plain) });
          this.emitFile({ type: "asset", fileName: `${fileName}.gz`, source: gzipSync(plain, { level: 9 }) });
        }
      },
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), compress()],
  build: { target: "es2022", assetsInlineLimit: 0, modulePreload: { polyfill: false } },
});
