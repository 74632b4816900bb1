import assert from "node:assert/strict";
import { readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { after, before, test } from "node:test";
import { begin, call, end, folder, goTo, house, moment, open, points, report, rest } from "./harness.mjs";

let two;
let one;

before(async () => {
  two = report("two", "fern-house", "sprig-2", ["left-first", "right-first"]);
  one = report("one", "mist-round", "sprig-5", ["rounds"], "--runs-only");
  await begin();
});
after(end);

/** Rows of a trace by their names. */
function trace(course, robot, plan) {
  const file = join(folder, "trace.csv");
  call(["run", join(house, `${course}.course.toml`), join(house, `${robot}.robot.toml`), join(house, `${plan}.plan`), "--trace", file]);
  const lines = readFileSync(file, "utf8").split("\n").filter((line) => line !== "" && !line.startsWith("#"));
  const cells = (line) => line.match(/("([^"]|"")*"|[^,]*)(,|$)/g).map((cell) => cell.replace(/,$/, ""));
  const names = cells(lines[0]);
  return lines.slice(1).map((line) => Object.fromEntries(cells(line).map((cell, i) => [names[i], cell])));
}

test("it is drawn whole, complains of nothing and asks for nothing", async () => {
  for (const file of [two, one]) {
    const page = await open(file);
    assert.deepEqual(page.complaints, []);
    assert.ok((await points(page, ".map canvas", [27, 27, 27])) > 500, "the tape is on the map");
    assert.ok((await points(page, ".map canvas.above", [186, 40, 52])) > 20, "so is the array");
    assert.equal(await page.locator("canvas").count() > 4, true);
    await page.close();
  }
});

test("what it tells of a look is what was recorded", async () => {
  const rows = trace("mist-round", "sprig-5", "rounds");
  const page = await open(one);
  let told = 0;
  for (const look of [0, 1, 97, 401, 733, 900, rows.length - 1]) {
    const row = rows[look];
    await goTo(page, Number(row.time_s) + 0.0004);
    const text = await page.locator(".moment").innerText();
    assert.match(text, new RegExp(`^${Number(row.time_s).toFixed(2)} s`));
    assert.match(text, new RegExp(`look ${look + 1} of ${rows.length}`));
    const [, x, y, facing] = /(\S+),(\S+) mm, (\S+)°/.exec(text).map(Number);
    for (const [told, is] of [[x, row.x_mm], [y, row.y_mm], [facing, row.heading_deg]]) {
      assert.ok(Math.abs(told - Number(is)) <= 0.56, text);
    }
    const array = await page.locator(".lamps").getAttribute("aria-label");
    assert.ok(array.includes(`[${row.pattern}]`), `${array} and ${row.pattern}`);
    const lit = page.locator(".plan .lit");
    if (Number(row.rule_line) > 0) {
      assert.equal(await lit.evaluate((item) => [...item.parentElement.children].indexOf(item) + 1), Number(row.rule_line));
      ++told;
    }
    const answers = await page.locator(".acts").innerText();
    assert.equal(answers, `left ${Number(row.left_pct).toFixed(1)} %, right ${Number(row.right_pct).toFixed(1)} %`);
  }
  assert.ok(told > 3);
  await page.close();
});

test("it plays at any speed and backwards, and stops at its ends", async () => {
  const page = await open(two);
  await page.getByRole("button", { name: /^play or stop/ }).click();
  await page.waitForFunction(() => Number(document.querySelector(".timeline input").value) > 0.4);
  await page.keyboard.press(" ");
  const stopped = await moment(page);
  await rest(page);
  assert.equal(await moment(page), stopped);
  await page.getByLabel("backwards").check();
  await page.getByLabel("speed").selectOption("4");
  await page.getByRole("button", { name: /^play or stop/ }).click();
  await page.waitForFunction(() => document.querySelector(".controls button").textContent.includes("play"));
  assert.equal(await moment(page), 0);
  await page.getByLabel("backwards").uncheck();
  await page.getByLabel("speed").selectOption("16");
  await page.getByRole("button", { name: /^play or stop/ }).click();
  await page.waitForFunction(() => document.querySelector(".when").textContent.includes("halt"));
  assert.deepEqual(page.complaints, []);
  await page.close();
});

test("time line, map, plots and what happened lead to moments", async () => {
  const page = await open(two);
  const strip = await page.locator(".strip").boundingBox();
  await page.mouse.move(strip.x + 40, strip.y + 20);
  await page.mouse.down();
  await page.mouse.move(strip.x + strip.width / 2, strip.y + 20, { steps: 5 });
  await page.mouse.up();
  const dragged = await moment(page);
  assert.ok(dragged > 3.9 && dragged < 4.5, String(dragged));

  await page.locator(".moments button", { hasText: "A comes to sharp bend" }).click();
  assert.ok(Math.abs((await moment(page)) - 2.65) < 0.02);
  assert.match(page.url(), /#t=2\.65/);
  await page.locator("body").press("n");
  assert.ok((await moment(page)) > 2.7);
  await page.locator("body").press("p");
  assert.ok(Math.abs((await moment(page)) - 2.65) < 0.02);

  await page.locator(".plots").scrollIntoViewIfNeeded();
  const plot = await page.locator(".plot .u-over").first().boundingBox();
  await page.mouse.click(plot.x + plot.width / 4, plot.y + plot.height / 2);
  const clicked = await moment(page);
  assert.ok(clicked > 1.8 && clicked < 2.4, String(clicked));

  await goTo(page, 0);
  await page.locator(".map").scrollIntoViewIfNeeded();
  // Where run A is at 4.3 s, by the scale at which the whole course fits.
  const at = await page.evaluate(() => {
    const map = document.querySelector(".map");
    return { w: map.clientWidth, h: map.clientHeight };
  });
  const course = { x: 716, y: 560 };
  const data = await page.evaluate(() => JSON.parse(document.getElementById("data").textContent).course);
  const scale = Math.min((at.w - 28) / data.width_mm, (at.h - 28) / data.height_mm);
  const map = await page.locator(".map").boundingBox();
  await page.mouse.click(map.x + (at.w - scale * data.width_mm) / 2 + scale * course.x + 1, map.y + (at.h - scale * data.height_mm) / 2 + scale * course.y + 1);
  const there = await moment(page);
  assert.ok(there > 3.8 && there < 4.7, String(there));
  await page.close();
});

test("keys do what buttons do", async () => {
  const page = await open(two);
  const body = page.locator("body");
  await body.press("ArrowRight");
  assert.ok(Math.abs((await moment(page)) - 0.01) < 1e-6);
  await body.press("Shift+ArrowRight");
  assert.ok(Math.abs((await moment(page)) - 0.26) < 1e-6);
  await body.press("ArrowLeft");
  assert.ok(Math.abs((await moment(page)) - 0.25) < 1e-6);
  await body.press("End");
  assert.ok((await moment(page)) > 8);
  await body.press("ArrowLeft");
  assert.match(await page.locator(".moment").innerText(), /look 827 of 827/);
  await body.press("Home");
  assert.equal(await moment(page), 0);
  await body.press("2");
  assert.match(await page.locator(".plan").getAttribute("aria-label"), /right first/);
  await body.press("]");
  assert.equal(await page.getByLabel("speed").inputValue(), "2");
  await body.press("r");
  assert.equal(await page.getByLabel("backwards").isChecked(), true);
  const whole = await points(page, ".map canvas", [27, 27, 27]);
  await body.press("+");
  await body.press("+");
  await rest(page);
  const near = await points(page, ".map canvas", [27, 27, 27]);
  assert.notEqual(near, whole);
  await body.press("0");
  await rest(page);
  assert.equal(await points(page, ".map canvas", [27, 27, 27]), whole);
  // In the time line's own slider arrows are the slider's.
  await page.getByLabel("moment of the run").focus();
  await page.keyboard.press("End");
  assert.ok((await moment(page)) > 8);
  await page.close();
});

test("runs stand over each other or beside each other, parted where they part", async () => {
  const page = await open(two, { hash: "#t=6" });
  assert.equal(await page.locator(".map").count(), 1);
  assert.ok((await points(page, ".map canvas", [38, 112, 72], 12)) > 100, "A's way");
  assert.ok((await points(page, ".map canvas", [186, 40, 52], 12)) > 100, "B's way");
  await page.locator("body").press("b");
  await rest(page);
  assert.equal(await page.locator(".map").count(), 2);
  assert.deepEqual(await page.locator(".maps figcaption").allInnerTexts(), ["A left first", "B right first"]);
  await page.locator("body").press("b");
  assert.equal(await page.locator(".map").count(), 1);
  const facts = await page.getByRole("table", { name: "Runs" }).innerText();
  assert.match(facts, /parts from the first\s+never\s+at 1\.0\d s; more than 10 mm away from \d\.\d+ s on/);
  await page.getByRole("radio", { name: "B right first" }).check();
  assert.match(page.url(), /run=B/);
  await page.close();
});

test("its address names the moment, the run and the page", async () => {
  const page = await open(two, { hash: "#t=5.5&run=B&view=routes" });
  assert.ok(Math.abs((await moment(page)) - 5.5) < 1e-6);
  assert.equal(await page.getByRole("tab", { selected: true }).innerText(), "Routes");
  assert.equal(await page.locator(".runs input").nth(1).isChecked(), true);
  await page.evaluate(() => (location.hash = "#t=1"));
  await page.waitForFunction(() => document.querySelector("[role=tab][aria-selected=true]").textContent === "Runs");
  assert.equal(await moment(page), 1);
  for (const odd of ["#t=x&run=ZZ9&view=nothing", "#%%%", "#t=-1", "#t=1e99&run=Q"]) {
    const other = await open(two, { hash: odd });
    assert.deepEqual(other.complaints, [], odd);
    assert.equal(await other.getByRole("tab", { selected: true }).innerText(), "Runs", odd);
    await other.close();
  }
  await page.close();
});

test("plots: any quantity, against time or way", async () => {
  const page = await open(one);
  const before = await page.locator(".plots figure").count();
  await page.getByLabel("sensor 3", { exact: true }).check();
  await page.getByLabel("facing", { exact: true }).check();
  assert.equal(await page.locator(".plots figure").count(), before + 2);
  await page.getByLabel("plots against").selectOption("way");
  await goTo(page, 9.3);
  assert.match(await page.locator(".plot-title").first().innerText(), /^offset: 0\.\d+/);
  const asked = report("asked", "mist-round", "sprig-5", ["rounds"], "--runs-only", "--plot", "[#####],max(sensor(1), 0.5),travelled");
  const other = await open(asked);
  const titles = await other.locator(".plot-title").allInnerTexts();
  assert.deepEqual(titles.map((title) => title.split(":")[0]), ["[#####]", "max(sensor(1), 0.5)", "travelled"]);
  assert.deepEqual([...page.complaints, ...other.complaints], []);
  await page.close();
  await other.close();
});

test("trips, routes, comparison and findings are pages of it", async () => {
  const page = await open(two, { hash: "#view=trips" });
  const trips = page.getByRole("tabpanel", { name: "Trips" });
  assert.match(await trips.innerText(), /2 passed, 2 failed/);
  assert.match(await trips.innerText(), /at "fork", coming from the south: took left, expected right/);
  assert.match(await trips.innerText(), /line 10 moved above line 9 lets it pass, held in 20 of 20 runs; breaks water the ferns/);
  await trips.getByRole("button", { name: /show .* on the map/ }).nth(1).click();
  assert.ok(Math.abs((await moment(page)) - 4.95) < 0.01);
  assert.equal(await page.getByRole("radio", { name: "B right first" }).isChecked(), true);
  for (const [name, words] of [["Routes", /potting bench → fork → mist room, where it halts/], ["Comparison", /passes more than left first/], ["Findings", /order-decides/]]) {
    await page.getByRole("tab", { name }).click();
    assert.match(await page.getByRole("tabpanel", { name }).innerText(), words);
  }
  await page.getByRole("tab", { name: "Findings" }).press("ArrowRight");
  assert.equal(await page.getByRole("tab", { selected: true }).innerText(), "Runs");
  await page.close();
});

test("margins of days are told", async () => {
  const file = report("days", "drain", "sprig-5", ["over-the-drain"], "--days", "30", "--margins", "--variation", join(house, "ordinary.days.toml"));
  const page = await open(file, { hash: "#view=trips" });
  const words = await page.getByRole("tabpanel", { name: "Trips" }).innerText();
  assert.match(words, /Holds on \d+\.\d % to \d+\.\d % of its days/);
  assert.match(words, /How far each may go alone before one run in twenty fails/);
  assert.match(words, /left motor/);
  await page.close();
});

test("it holds at the width of a phone, in the dark and on paper", async () => {
  const phone = await open(two, { viewport: { width: 390, height: 844 }, isMobile: true, hasTouch: true });
  assert.ok((await phone.evaluate(() => document.scrollingElement.scrollWidth)) <= 390);
  for (const tab of ["Trips", "Routes", "Comparison", "Findings", "Runs"]) {
    await phone.getByRole("tab", { name: tab }).tap();
    assert.ok((await phone.evaluate(() => document.scrollingElement.scrollWidth)) <= 390, tab);
  }
  await phone.getByRole("button", { name: /^play or stop/ }).tap();
  await phone.waitForFunction(() => Number(document.querySelector(".timeline input").value) > 0.2);
  await phone.close();

  for (const colorScheme of ["light", "dark"]) {
    const page = await open(two, { colorScheme });
    // Contrast as WCAG 2.1 has it.
    const ratio = (selector) =>
      page.evaluate((of) => {
        const light = (text) => {
          const [r, g, b] = text.match(/[\d.]+/g).slice(0, 3).map((c) => c / 255).map((c) => (c <= 0.03928 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4));
          return 0.2126 * r + 0.7152 * g + 0.0722 * b;
        };
        const element = document.querySelector(of);
        let behind = element;
        while (getComputedStyle(behind).backgroundColor === "rgba(0, 0, 0, 0)" && behind.parentElement) {
          behind = behind.parentElement;
        }
        const [a, b] = [light(getComputedStyle(element).color), light(getComputedStyle(behind).backgroundColor)].sort((x, y) => y - x);
        return (a + 0.05) / (b + 0.05);
      }, selector);
    for (const selector of ["h1", ".where", ".controls button", ".hint", ".plan li", ".bad", ".good", ".moments .at", "[role=tab][aria-selected=true]"]) {
      assert.ok((await ratio(selector)) >= 4.5, `${colorScheme} ${selector}`);
    }
    await page.close();
  }

  const paper = await open(two, { hash: "#t=5" });
  const pdf = await paper.pdf({ format: "A4" });
  assert.ok(pdf.length > 50_000);
  await paper.emulateMedia({ media: "print" });
  await paper.evaluate(() => window.dispatchEvent(new Event("beforeprint")));
  assert.equal(await paper.locator(".controls").isVisible(), false);
  assert.equal(await paper.locator(".map .paper").isVisible(), true);
  for (const name of ["trips", "routes", "comparison", "findings"]) {
    assert.equal(await paper.locator(`#view-${name}`).isVisible(), true);
  }
  await paper.close();
});

test("everything in it has a name for who hears it", async () => {
  const page = await open(two);
  const nameless = await page.evaluate(() =>
    [...document.querySelectorAll("button, input, select, [role=region], [tabindex='0']")]
      .filter((element) => !(element.getAttribute("aria-label") || element.textContent.trim() || element.labels?.length || element.getAttribute("aria-labelledby")))
      .map((element) => element.outerHTML));
  assert.deepEqual(nameless, []);
  assert.match(await page.locator(".map").getAttribute("aria-label"), /run A, left first: halt at 8\.26 s, by sharp bend, fork, mist room/);
  await goTo(page, 4.3);
  assert.equal(await page.getByLabel("moment of the run").getAttribute("aria-valuetext"), "4.30 of 8.43 seconds");
  assert.equal(await page.locator(".plan [aria-current=true]").count(), 1);
  await page.close();
});

test("names that are markup are names", async () => {
  const evil = `</script><script>alert(1)</script><img src=x onerror=alert(2)>`;
  const course = readFileSync(join(house, "fern-house.course.toml"), "utf8").replaceAll("mist room", `${evil} room`).replace(/^name = .*$/m, `name = '''<!--<script>${evil}'''`);
  const plan = readFileSync(join(house, "left-first.plan"), "utf8").replace("on the pad", evil.replaceAll('"', "'")).replace("left first", `"><script>alert(3)</script>`.replaceAll('"', "'")) + `// </li></ol>${evil}\n`;
  const files = ["evil.course.toml", "evil.plan"].map((name) => join(folder, name));
  writeFileSync(files[0], course);
  writeFileSync(files[1], plan);
  const page = await open(report("evil", files[0], "sprig-2", [files[1]]));
  assert.deepEqual(page.complaints, []);
  assert.equal(await page.locator("script").count(), 2);
  assert.equal(await page.locator("img").count(), 0);
  assert.match(await page.locator("h1").first().innerText(), /^<!--<script>/);
  assert.ok((await page.locator(".moments").innerText()).includes(evil));
  assert.ok((await page.locator(".plan").innerText()).includes(evil));
  await page.getByRole("tab", { name: "Trips" }).click();
  assert.deepEqual(page.complaints, []);
  // And were there markup, its policy lets no script of it run, no style, no request.
  const broken = await page.evaluate(() => {
    const told = [];
    document.addEventListener("securitypolicyviolation", (event) => told.push(event.effectiveDirective));
    const script = document.createElement("script");
    script.textContent = "window.ran = true";
    document.body.append(script);
    const style = document.createElement("style");
    style.textContent = "body { display: none }";
    document.body.append(style);
    const image = document.createElement("img");
    image.src = "https://somewhere.invalid/x.png";
    document.body.append(image);
    return new Promise((done) => setTimeout(() => done({ told, ran: window.ran === true, shown: getComputedStyle(document.body).display }), 200));
  });
  assert.equal(broken.ran, false);
  assert.notEqual(broken.shown, "none");
  for (const directive of ["script-src-elem", "style-src-elem", "img-src"]) {
    assert.ok(broken.told.includes(directive), directive);
  }
  await page.close();
});

test("a run that ended before its first look is shown too", async () => {
  const page = await open(report("none", "stages", "sprig-5", [join(house, "plans/five-pid.plan")], "--runs-only"));
  assert.match(await page.locator(".moment").innerText(), /off course.* it ended before its first look/s);
  assert.match(await page.getByRole("table", { name: "Runs" }).innerText(), /looks\s+none/);
  assert.equal(await page.locator(".plot-title").first().innerText(), "offset: none");
  for (const key of ["ArrowRight", "ArrowLeft", "End", "Home", "n", "p", " ", "f", "+"]) {
    await page.locator("body").press(key);
  }
  await page.getByLabel("plots against").selectOption("way");
  await rest(page);
  assert.deepEqual(page.complaints, []);
  await page.close();
});

test("a page that was cut or changed says so", async () => {
  const file = join(folder, "cut.html");
  const html = readFileSync(one, "utf8");
  writeFileSync(file, html.replace(/"packed":"[^"]{400}/, '"packed":"'));
  const page = await open(file);
  assert.match(await page.getByRole("alert").innerText(), /This page cannot be shown: /);
  await page.close();
});

test("ten minutes of five sensors are under 3 MB", async () => {
  const file = report("long", "mist-loop", "sprig-5", [join(house, "plans/five-pid.plan")], "--limit-s", "600", "--runs-only");
  assert.ok(statSync(file).size < 3e6);
  const page = await open(file, { hash: "#t=431.2" });
  assert.match(await page.locator(".moment").innerText(), /^431\.20 s\s+look 35934 of 50000/);
  assert.deepEqual(page.complaints, []);
  await page.close();
});
