import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";

import { defineConfig } from "vite";

/** Everything that was just built: what carries a hash in its name stands for itself, the rest by its content. */
function shell() {
  const files = readdirSync("dist", { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile());
  return files
    .map((entry) => join(entry.parentPath, entry.name))
    .filter((path) => !/\.(br|gz|map)$/.test(path) && !path.endsWith("sw.js"))
    .map((path) => ({
      url: `/${path.split(/[\\/]/).slice(1).join("/")}`,
      revision: path.includes("assets")
        ? null
        : createHash("sha256").update(readFileSync(path)).digest("hex").slice(0, 16),
    }));
}

/** The service worker, built after the application that it keeps. */
export default defineConfig({
  define: { __SHELL__: JSON.stringify(shell()), "process.env.NODE_ENV": '"production"' },
  build: {
    outDir: "dist",
    emptyOutDir: false,
    copyPublicDir: false,
    target: "es2022",
    rollupOptions: { input: "src/worker/sw.ts", output: { entryFileNames: "sw.js", format: "iife" } },
  },
});
