// Measures vturn watch on the demo in headless Chromium: node bench/watch.mjs
// how long after a plan is saved the page shows the new run.
import { copyFileSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { begin, end, folder, follow, house, open } from "../tests/harness.mjs";

const plan = join(folder, "watched.plan");
copyFileSync(join(house, "left-first.plan"), plan);
const server = follow(["watch", join(house, "fern-house.course.toml"), join(house, "sprig-2.robot.toml"), plan]);
const address = await new Promise((done) => {
  let text = "";
  server.stdout.on("data", (part) => {
    text += part;
    const found = /http:\S+/.exec(text);
    if (found !== null) {
      done(found[0]);
    }
  });
});
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
  writeFileSync(`${plan}.new`, text.replace("cruise = 47 ", `cruise = ${cruise} `));
  const saved = Date.now();
  renameSync(`${plan}.new`, plan);
  taken.push((await shown) - saved);
}
taken.sort((a, b) => a - b);
console.log(`of ${taken.length} times a plan was saved the page showed its run after ${taken[taken.length >> 1]} ms in the median, ${taken.at(-1)} ms at the most`);
server.kill("SIGINT");
await end();
