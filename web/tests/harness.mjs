// Pages made by the command and opened in a browser.
import { execFileSync, spawn } from "node:child_process";
import { copyFileSync, mkdtempSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import { chromium } from "playwright-core";

export const root = join(dirname(fileURLToPath(import.meta.url)), "../..");
export const house = join(root, "data/fern-house");
const vturn = process.env.VTURN ?? join(root, "build/release/apps/vturn/vturn");
export const folder = mkdtempSync(join(tmpdir(), "vast-turn-page-"));

/** What a call prints; its exit status may be any of the allowed ones. */
export function call(words, allowed = [0, 1]) {
  try {
    return execFileSync(vturn, words, { cwd: root, encoding: "utf8", stdio: ["ignore", "pipe", "pipe"] });
  } catch (error) {
    if (allowed.includes(error.status)) {
      return error.stdout;
    }
    throw new Error(`${words.join(" ")}: ${error.stderr}`);
  }
}

/** A copy of a plan of the demo that is watched over the fern house: the plan, how it is saved, the server, its address. */
export async function watched() {
  const plan = join(folder, "watched.plan");
  copyFileSync(join(house, "left-first.plan"), plan);
  const words = ["watch", join(house, "fern-house.course.toml"), join(house, "sprig-2.robot.toml"), plan];
  const server = spawn(vturn, words, { cwd: root, stdio: ["ignore", "pipe", "inherit"] });
  const address = await new Promise((done, fail) => {
    let text = "";
    server.stdout.on("data", (part) => {
      text += part;
      const found = /http:\S+/.exec(text);
      if (found !== null) {
        done(found[0]);
      }
    });
    server.on("exit", () => fail(new Error(`it ended: ${text}`)));
  });
  // As editors save: another file takes its place.
  const save = (text) => {
    writeFileSync(`${plan}.new`, text);
    renameSync(`${plan}.new`, plan);
  };
  return { plan, server, address, save };
}

/** A page of runs over a course of the fern house. */
export function report(name, course, robot, plans, ...options) {
  const file = join(folder, `${name}.html`);
  const of = (files, kind) => files.map((one) => (one.includes("/") ? one : join(house, `${one}.${kind}`)));
  call(["report", ...of([course], "course.toml"), ...of([robot], "robot.toml"), ...of(plans, "plan"), "-o", file, ...options]);
  return file;
}

let browser;

export async function begin() {
  browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
}

export async function end() {
  await browser.close();
  rmSync(folder, { recursive: true, force: true });
}

/** A page opened; whatever it complains of or asks of a network is kept in `page.complaints`. */
export async function open(file, { hash = "", ...options } = {}) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, ...options });
  page.complaints = [];
  page.on("console", (message) => ["error", "warning"].includes(message.type()) && page.complaints.push(message.text()));
  page.on("pageerror", (error) => page.complaints.push(error.message));
  page.on("dialog", (dialog) => {
    page.complaints.push(`dialog ${dialog.message()}`);
    void dialog.dismiss();
  });
  page.on("request", (request) => /^(file|data|blob):/.test(request.url()) || page.complaints.push(`asked for ${request.url()}`));
  await page.goto(file.startsWith("http") ? file + hash : pathToFileURL(file).href + hash);
  await page.waitForSelector("html[data-ready]");
  await rest(page);
  return page;
}

/** Until two more pictures were drawn. */
export async function rest(page) {
  await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(done)))));
}

/** The moment that is shown, in seconds. */
export async function moment(page) {
  return Number(await page.getByLabel("moment of the run").inputValue());
}

export async function goTo(page, t) {
  await page.getByLabel("moment of the run").fill(String(Math.round(1000 * t) / 1000));
  await rest(page);
}

/** How many points of a canvas have a colour near one. */
export async function points(page, selector, [r, g, b], near = 24) {
  return page.evaluate(
    ({ selector, r, g, b, near }) => {
      const canvas = document.querySelector(selector);
      const all = canvas.getContext("2d").getImageData(0, 0, canvas.width, canvas.height).data;
      let count = 0;
      for (let i = 0; i < all.length; i += 4) {
        if (all[i + 3] > 200 && Math.abs(all[i] - r) < near && Math.abs(all[i + 1] - g) < near && Math.abs(all[i + 2] - b) < near) {
          ++count;
        }
      }
      return count;
    },
    { selector, r, g, b, near },
  );
}
