// Measures a page in headless Chromium: node bench/page.mjs PAGE.html
// how soon map, time line and plan stand, and plots too; how often it draws while it plays.
import { chromium } from "playwright-core";
import { statSync } from "node:fs";
import { resolve } from "node:path";

const file = resolve(process.argv[2]);
const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
const rows = [];
for (let round = 0; round < 5; ++round) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  // Looked at from within, picture by picture: asking from outside waits for a turn of its own.
  await page.addInitScript(() => {
    const look = () => {
      const now = performance.now();
      if (window.drawn === undefined && document.documentElement?.dataset.ready === "yes" && document.querySelector(".map canvas")?.width > 300) {
        window.drawn = now;
      }
      if (window.drawn !== undefined && document.querySelector(".plots canvas") !== null) {
        window.whole = now;
      } else {
        requestAnimationFrame(look);
      }
    };
    requestAnimationFrame(look);
  });
  await page.goto(`file://${file}`);
  await page.waitForFunction(() => window.whole !== undefined);
  const { drawn, whole } = await page.evaluate(() => ({ drawn: window.drawn, whole: window.whole }));
  await page.getByLabel("speed").selectOption("8");
  const played = await page.evaluate(
    () =>
      new Promise((done) => {
        const times = [];
        const began = performance.now();
        const frame = (now) => {
          times.push(now);
          if (now - began < 4000) {
            requestAnimationFrame(frame);
          } else {
            const apart = times.slice(1).map((t, i) => t - times[i]).sort((a, b) => a - b);
            done({ pictures: (apart.length * 1000) / (times.at(-1) - times[0]), slow: apart[Math.floor(apart.length * 0.99)] });
          }
        };
        document.querySelector(".controls button").click();
        requestAnimationFrame(frame);
      }),
  );
  rows.push({ drawn, whole, ...played });
  await page.close();
}
await browser.close();
const middle = (name) => rows.map((row) => row[name]).sort((a, b) => a - b)[2].toFixed(1);
console.log(`${(statSync(file).size / 1e6).toFixed(2)} MB; medians of 5: drawn after ${middle("drawn")} ms, with plots ${middle("whole")} ms; ${middle("pictures")} pictures a second while it plays, 99 of 100 within ${middle("slow")} ms`);
