// The picture of the page in docs/screenshots: node bench/shot.mjs FILE.png, with VTURN in the environment as the tests have it.
import { begin, end, open, report } from "../tests/harness.mjs";

await begin();
const file = report("shot", "glass-wing", "sprig-5", ["rounds", "rounds-first-try"]);
const page = await open(file, { hash: "#t=9.3" });
await page.screenshot({ path: process.argv[2] });
await end();
