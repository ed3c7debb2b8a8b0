import { defineConfig } from "vite";

/** The drawings as a program for the server: the printed line is the very line of the screen. */
export default defineConfig({
  // Asked when it runs, the slow kind of the library would be taken.
  define: { "process.env.NODE_ENV": JSON.stringify("production") },
  build: {
    minify: true,
    ssr: "src/drawing/print.tsx",
    outDir: "dist-print",
    target: "node20",
    emptyOutDir: true,
    copyPublicDir: false,
  },
  ssr: { noExternal: true },
});
