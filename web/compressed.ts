/** Files of the build beside themselves in compressed form, so that the server sends them so: made once, not for each request. */
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";
import type { Plugin } from "vite";

const TEXT = /\.(js|css|svg|html|json)$/;

export function compressed(folder = "dist"): Plugin {
  return {
    name: "compressed",
    apply: "build",
    closeBundle() {
      for (const name of readdirSync(folder, { recursive: true, encoding: "utf8" })) {
        if (!TEXT.test(name)) continue;
        const path = join(folder, name);
        const content = readFileSync(path);
        if (content.length < 1000) continue;
        const best = { params: { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY } };
        writeFileSync(`${path}.br`, brotliCompressSync(content, best));
        writeFileSync(`${path}.gz`, gzipSync(content, { level: 9 }));
      }
    },
  };
}
