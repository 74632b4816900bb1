// Measures vturn watch on the demo in headless Chromium: node bench/watch.mjs
// how long after a plan is saved the page shows the new run.
import { readFileSync } from "node:fs";
import { begin, end, open, watched } from "../tests/harness.mjs";

const { plan, server, address, save } = await watched();
await begin();
const page = await open(address);
const text = readFileSync(plan, "utf8");
const taken = [];
for (let cruise = 41; cruise < 56; ++cruise) {
  await new Promise((done) => setTimeout(done, 400));
  // The browser and this program have one clock.
  const shown = page.evaluate(
    (words) =>
      new Promise((done) => {
        const look = () =>
          document.querySelector(".plan")?.textContent.includes(words) && document.querySelector(".map canvas")?.width > 300
            ? requestAnimationFrame(() => done(Date.now()))
            : requestAnimationFrame(look);
        look();
      }),
    `cruise = ${cruise} `,
  );
  const saved = Date.now();
  save(text.replace("cruise = 47 ", `cruise = ${cruise} `));
  taken.push((await shown) - saved);
}
taken.sort((a, b) => a - b);
console.log(`of ${taken.length} times a plan was saved the page showed its run after ${taken[taken.length >> 1]} ms in the median, ${taken.at(-1)} ms at the most`);
server.kill("SIGINT");
await end();
