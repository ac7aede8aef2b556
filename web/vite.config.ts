/// <reference types="node" />
import { createHash } from "node:crypto";
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

type Bundle = Parameters<Extract<NonNullable<Plugin["generateBundle"]>, { handler: unknown }>["handler"]>[1];

/** The files of the page for guests: its script, all that it imports, and their styles. */
function guestFiles(bundle: Bundle): Set<string> {
  const found = new Set<string>();
  const open = Object.values(bundle).filter((file) => file.type === "chunk" && file.isEntry && file.facadeModuleId?.endsWith("guest.html"));
  for (const file of open) {
    if (file?.type !== "chunk" || found.has(file.fileName)) continue;
    found.add(file.fileName);
    for (const style of file.viteMetadata?.importedCss ?? []) found.add(style);
    for (const name of file.imports) {
      const next = bundle[name];
      if (next) open.push(next);
    }
  }
  return found;
}

/**
 * Puts the workers that keep the pages on a device beside them, with the names of the files that each page is of, and
 * the manifest.
 */
function worker(): Plugin {
  return {
    name: "worker",
    enforce: "post",
    generateBundle: {
      order: "post",
      handler(_, bundle) {
        const built = Object.keys(bundle).filter((name) => /\.(js|css|woff2)$/.test(name));
        const guests = guestFiles(bundle);
        const template = readFileSync("worker/service-worker.js", "utf8");
        const put = (fileName: string, page: string, names: string[]) => {
          const files = names.map((name) => `/${name}`).sort();
          const build = createHash("sha256").update(files.join()).digest("hex").slice(0, 12);
          const source = template.replace("__BUILD__", build).replace("__FILES__", JSON.stringify(files)).replace("__PAGE__", page);
          this.emitFile({ type: "asset", fileName, source });
        };
        put("service-worker.js", "/", built);
        put("guest-worker.js", "/guest/", built.filter((name) => guests.has(name)));
        for (const name of ["manifest.webmanifest", "icon.svg"]) {
          this.emitFile({ type: "asset", fileName: `assets/${name}`, source: readFileSync(`worker/${name}`, "utf8") });
        }
      },
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), worker(), compress(), licences()],
  build: { target: "es2022", assetsInlineLimit: 0, modulePreload: { polyfill: false }, rolldownOptions: { input: ["index.html", "guest.html"] } },
});
