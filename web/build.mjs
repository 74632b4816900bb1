// Makes the page's script and style of the modules in src, into kept/ or a folder that is named:
//   node build.mjs [FOLDER]
import { build, transform } from "esbuild";
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const here = dirname(fileURLToPath(import.meta.url));
const into = process.argv[2] ?? join(here, "kept");
mkdirSync(into, { recursive: true });
const made = await build({
  absWorkingDir: here,
  entryPoints: ["src/main.ts"],
  bundle: true,
  format: "iife",
  target: "es2022",
  minify: true,
  charset: "ascii",
  legalComments: "none",
  write: false,
});
const script = made.outputFiles[0].text;
if (/<\/script|<!--|\)vturn-page"/i.test(script)) {
  throw new Error("the script has a text in it that would end it within a page");
}
writeFileSync(join(into, "page.js"), script);
const own = readFileSync(join(here, "src/page.css"), "utf8");
const plots = readFileSync(join(here, "node_modules/uplot/dist/uPlot.min.css"), "utf8");
const style = await transform(plots + "\n" + own, { loader: "css", minify: true });
if (/<\/style|\)vturn-page"/i.test(style.code)) {
  throw new Error("the style has a text in it that would end it within a page");
}
writeFileSync(join(into, "page.css"), style.code);
copyFileSync(join(here, "node_modules/uplot/LICENSE"), join(into, "plot-licence.txt"));
