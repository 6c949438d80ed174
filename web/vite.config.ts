import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { build, defineConfig, type Plugin } from "vite";

const OUT = "dist";

/** Every file of the page, for the worker that keeps them: those without a hash in their name with that of their content. */
function keptFiles() {
  const digest = (name: string) =>
    createHash("sha256")
      .update(readFileSync(`${OUT}/${name}`))
      .digest("hex");
  return readdirSync(OUT, { recursive: true, withFileTypes: true })
    .filter((file) => file.isFile())
    .map((file) => `${file.parentPath}/${file.name}`.slice(OUT.length + 1))
    .map((name) => ({ url: `/${name}`, revision: name.startsWith("assets/") ? null : digest(name) }));
}

/** Builds the worker once the page is built: on its own, so that it shares no file with the page. */
function worker(): Plugin {
  return {
    name: "worker",
    apply: "build",
    async closeBundle() {
      await build({
        configFile: false,
        publicDir: false,
        logLevel: "warn",
        define: { __UBREX_FILES__: JSON.stringify(keptFiles()), "process.env.NODE_ENV": '"production"' },
        build: {
          outDir: OUT,
          emptyOutDir: false,
          lib: { entry: "src/sw.ts", formats: ["iife"], name: "worker", fileName: () => "sw.js" },
        },
      });
    },
  };
}

/** Puts what runs first into the page itself: the server names it by its hash in the content security policy. */
function inPage(): Plugin {
  return {
    name: "in-page",
    transformIndexHtml: (html) =>
      html.replace("<script></script>", () => `<script>\n${readFileSync("src/first.js")}</script>`),
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), worker(), inPage()],
  // All else ships as a file: an inlined font or picture would need a wider content security policy.
  build: {
    outDir: OUT,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
    // What the first screen needs are two scripts, compiled side by side: each request more is waited for.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: "react", test: /react-dom/ },
            { name: "first", tags: ["$initial"] },
          ],
        },
      },
    },
  },
});
