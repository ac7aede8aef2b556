/// <reference types="node" />
import { readdirSync, readFileSync } from "node:fs";
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

type Locked = { packages: Record<string, { dev?: boolean; version?: string; license?: string }> };

/** Puts the licence texts of every font and package that the interface is built of beside it. */
function licences(): Plugin {
  return {
    name: "licences",
    generateBundle() {
      const { packages } = JSON.parse(readFileSync("package-lock.json", "utf8")) as Locked;
      const texts = Object.entries(packages)
        .filter(([folder, { dev }]) => folder && !dev)
        .map(([folder, { version, license }]) => {
          const name = folder.replace(/^.*node_modules\//, "");
          const file = readdirSync(folder).find((one) => /^(licen[cs]e|copying)/i.test(one));
          const text = file ? readFileSync(`${folder}/${file}`, "utf8").trim() : "(comes without a text of its own)";
          return `${name} ${version ?? ""}, ${license ?? ""}\n\n${text}\n`;
        });
      this.emitFile({ type: "asset", fileName: "assets/licences.txt", source: texts.join(`\n${"-".repeat(78)}\n\n`) });
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), compress(), licences()],
  build: { target: "es2022", assetsInlineLimit: 0, modulePreload: { polyfill: false } },
});
