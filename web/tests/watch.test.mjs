import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { request } from "node:http";
import { after, before, test } from "node:test";
import { begin, end, goTo, moment, open, watched } from "./harness.mjs";

let server;
let address;
let plan;
let save;

before(async () => {
  ({ server, address, plan, save } = await watched());
  await begin();
});
after(async () => {
  server.removeAllListeners("exit");
  const ended = new Promise((done) => server.on("exit", done));
  server.kill("SIGINT");
  assert.equal(await ended, 0);
  await end();
});

/** The status that a request gets. */
function ask(path, headers = {}, method = "GET") {
  return new Promise((done, fail) => {
    const to = new URL(address);
    const asked = request({ host: to.hostname, port: to.port, path: path ?? to.pathname, method, headers }, (answer) => {
      answer.resume();
      done(answer.statusCode);
    });
    asked.on("error", fail);
    asked.end();
  });
}

test("the page is drawn anew when a file is saved, and stays where it was", async () => {
  const page = await open(address);
  page.complaints.length = 0; // requests of its own
  await goTo(page, 3.5);
  await page.getByLabel("sensor 1", { exact: true }).check();
  const before = readFileSync(plan, "utf8");
  save(before.replace("cruise = 47", "cruise = 43"));
  await page.waitForFunction(() => /cruise = 43/.test(document.querySelector(".plan").textContent));
  assert.ok(Math.abs((await moment(page)) - 3.5) < 1e-6);
  assert.equal(await page.getByLabel("sensor 1", { exact: true }).isChecked(), true);

  save(before.replace("habit", "habitt"));
  await page.waitForSelector("[role=alert]");
  assert.match(await page.locator("[role=alert]").innerText(), /watched\.plan:7:1: error: .*\n.*habitt/);
  assert.match(await page.locator("[role=alert]").innerText(), /did you mean `habit`/);
  save(before);
  await page.waitForSelector(".plan");
  assert.ok(Math.abs((await moment(page)) - 3.5) < 1e-6);
  assert.deepEqual(page.complaints.filter((text) => !text.startsWith("asked for http://127.0.0.1")), []);
  await page.close();
});

test("nobody else gets it", async () => {
  const to = new URL(address);
  assert.equal(await ask(), 200);
  assert.equal(await ask("/"), 404);
  assert.equal(await ask(`/${"0".repeat(32)}/`), 404);
  assert.equal(await ask(undefined, { Host: "fern-house.example" }), 403);
  assert.equal(await ask(undefined, { Host: `fern-house.example:${to.port}` }), 403);
  assert.equal(await ask(undefined, { Origin: "http://fern-house.example" }), 403);
  assert.equal(await ask(undefined, { Origin: "null" }), 403);
  assert.equal(await ask(undefined, { "Sec-Fetch-Site": "cross-site" }), 403);
  assert.equal(await ask(`${to.pathname}changes?after=0`, { Origin: "http://fern-house.example" }), 403);
  assert.equal(await ask(undefined, {}, "POST"), 404);
  assert.equal(await ask(`${to.pathname}../../etc/passwd`), 404);
  assert.equal(await ask(undefined, { Host: `localhost:${to.port}` }), 200);
});
