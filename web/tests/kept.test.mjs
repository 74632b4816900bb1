import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { test } from "node:test";
import { fileURLToPath } from "node:url";

const web = join(dirname(fileURLToPath(import.meta.url)), "..");

test("what is kept is what the modules make", () => {
  const folder = mkdtempSync(join(tmpdir(), "vast-turn-kept-"));
  execFileSync(process.execPath, [join(web, "build.mjs"), folder]);
  for (const file of ["page.js", "page.css", "plot-licence.txt"]) {
    assert.ok(readFileSync(join(folder, file)).equals(readFileSync(join(web, "kept", file))), `${file}: run npm run build in web/ and commit web/kept`);
  }
  rmSync(folder, { recursive: true });
});
