// From an empty shop, counted: how many pages, keys and forms it takes to an answer. A click
// counts as a key, and the first page as one; each test fails when it grows.
import { expect, test } from "./workshop.mjs";

// counted counts what a builder does, and the pages that are loaded.
async function counted(page) {
  const n = { pages: 0, keys: 0, submits: 0 };
  page.on("load", () => n.pages++);
  page.on("request", (request) => request.method() === "POST" && n.submits++);
  const hand = {
    n,
    type: async (field, text) => {
      await field.focus();
      await page.keyboard.type(text);
      n.keys += text.length;
    },
    press: async (key) => {
      await page.keyboard.press(key);
      n.keys++;
    },
    click: async (what) => {
      await what.click();
      n.keys++;
    },
  };
  // reading types one figure and presses Enter, as the points come.
  hand.reading = async (text) => {
    const id = await page.locator("form.reading input[name=id]").inputValue();
    await hand.type(page.locator("#text"), text);
    await hand.press("Enter");
    await expect(page.locator(`form.reading input[name=id][value="${id}"]`)).toHaveCount(0);
  };
  return hand;
}

test("measure now: the twist of a part within 3 pages and 30 keys, a wrong entry on the way", async ({ page, empty }) => {
  const hand = await counted(page);
  await page.goto(empty.url);
  await hand.click(page.getByRole("link", { name: "Is this part twisted?" }));
  await hand.type(page.locator("[name='0.stations.1.1']"), "960");
  await page.locator("[name='0.lies']").focus();
  await hand.press("s"); // stiff, and lying by itself
  await hand.click(page.getByRole("button", { name: "Read it" }));
  await hand.reading("0");
  await hand.type(page.locator("#text"), ",3,");
  await hand.press("Enter");
  await expect(page.locator("#text-problem .problem")).toBeVisible();
  await page.locator("#text").fill("");
  hand.n.keys += 3;
  await hand.reading("0.3");
  await expect(page.locator(".answer")).toContainText("+0.30°");
  await expect(page.locator(".answer")).toContainText("twist of the part, tip over root");
  console.log("measure now", hand.n);
  expect(hand.n.pages).toBeLessThanOrEqual(3);
  expect(hand.n.keys).toBeLessThanOrEqual(30);
});

const sizes = ["315", "52", "52", "35", "205", "41", "43", "114", "33", "48"];

// begin begins Tansy from a shape, every size typed in inches, by the keyboard.
async function begin(page, hand) {
  await hand.click(page.getByRole("link", { name: "low-wing tractor" }));
  await hand.type(page.locator("[name=name]"), "Tansy");
  await hand.press("Tab");
  await hand.press("ArrowRight");
  for (const size of sizes) {
    await hand.press("Tab");
    await page.keyboard.type(size);
    hand.n.keys += size.length;
  }
  await hand.press("Enter");
  await expect(page.getByRole("heading", { name: "Tansy" })).toBeVisible();
}

// onRails puts the tailplane on two rails and reads from the first height to the verdict on
// one page.
async function onRails(page, hand, heights, angles) {
  await hand.click(page.locator(".parts > ol a", { hasText: "tailplane" }));
  await hand.click(page.getByText("Measure it on a pair of rails"));
  await hand.type(page.getByLabel("The rails are apart"), "20");
  await hand.type(page.getByLabel("Twist, from"), "±.2");
  await hand.click(page.getByLabel("limp, or held down"));
  await hand.press("Enter");
  await expect(page.locator(".checks")).toBeVisible();
  for (const text of [...heights, ...angles]) await hand.reading(text);
}

test("own aircraft in inches, every size typed, to the twist on rails within 5 pages and 130 keys", async ({ page, empty }) => {
  const hand = await counted(page);
  await page.goto(empty.url);
  await begin(page, hand);
  await onRails(page, hand, ["2", "2", "2 1/16", "2"], ["0", ".1", ".2"]);
  await expect(page.locator(".answer")).toContainText("of it is the rails'");
  await expect(page.locator(".answer .value")).toContainText("+0.0");
  console.log("own aircraft", hand.n);
  expect(hand.n.pages).toBeLessThanOrEqual(5);
  expect(hand.n.keys).toBeLessThanOrEqual(130);
});

// An inch aircraft through the whole story: no millimetre stands on any screen without the
// builder having typed it.
test("an inch aircraft reads in inches on every screen", async ({ page, empty }) => {
  page.setDefaultTimeout(10_000);
  const hand = await counted(page);
  await page.goto(empty.url);
  await begin(page, hand);
  const bare = /\d\s?mm\b/;
  const read = new Map();
  const inches = async (where) => {
    await page.evaluate(() => document.querySelectorAll("details").forEach((d) => (d.open = true)));
    const found = await page.evaluate(() => {
      for (const typed of document.querySelectorAll("option, .typed, s, script, style, textarea")) typed.remove();
      const said = [...document.querySelectorAll("[aria-label], [placeholder]")].flatMap((e) => [e.getAttribute("aria-label"), e.getAttribute("placeholder")]);
      return [document.body.innerText, ...[...document.querySelectorAll("svg text")].map((t) => t.textContent), ...said].filter(Boolean).join("\n");
    });
    read.set(where, found.split("\n").filter((line) => bare.test(line)));
  };
  const frame = page.url();
  await inches("airframe");
  const part = async (name) => {
    await page.goto(frame);
    await page.locator(".parts > ol a", { hasText: name }).click();
    return page.url();
  };
  const tail = await part("tailplane");
  await inches("assembly");
  await page.goto(frame);
  await onRails(page, hand, ["2", "2", "2 1/16", "2"], ["0", ".1", ".2"]);
  await page.locator("#working summary").click();
  await inches("setup, twist");
  const setup = page.url().split("?")[0];
  await page.locator(".checks > a").first().click();
  await page.locator("#working summary").click();
  await inches("setup, the rails");
  await page.locator("a.judged").click();
  await inches("check");
  for (const usual of ["tailplane", "join", "other"]) {
    await page.goto(`${tail}/usual/${usual}`);
    await inches(`usual ${usual}`);
  }
  await page.goto(tail + "/usual/tailplane");
  await page.locator("[name='2.take']").check();
  await page.locator("[name='2.spacing']").fill("8");
  await page.locator("[name='2.low.tip_difference']").fill("±1/8");
  await page.locator("[name='2.instrument']").selectOption({ label: "rule in 1/64 in" });
  await page.getByRole("button", { name: "Begin the setup" }).click();
  for (const text of ["68", "68 1/64"]) await hand.reading(text);
  await page.locator("#working summary").click();
  await inches("brackets");
  await page.goto(tail);
  await inches("assembly, measured");
  await page.getByRole("link", { name: "Lay out a row" }).click();
  await inches("row, its form");
  await page.locator("[name=name]").fill("rear spar");
  const fill = async (fields) => {
    for (const [name, value] of Object.entries(fields)) {
      const field = page.locator(`[name="${name}"]`);
      if ((await field.evaluate((e) => e.tagName)) === "SELECT") await field.selectOption(value);
      else await field.fill(value);
    }
  };
  await fill({ layers: "aluminium; 0.032; plain\naluminium; 0.040; plain", size: "1/8", edge: "5/16", count: "12", pitch: "1 1/4", first: "1/2" });
  await page.getByRole("button", { name: /Lay (it|the row) out/ }).click();
  await expect(page.locator(".strip").first()).toBeVisible();
  await inches("row");
  const row = page.url();
  await page.goto(row.split("?")[0] + "/plan");
  await inches("row, its plan");
  for (const path of ["/setups", "/joins", "/holds", "/rows", "/stores", "/instruments", "/measure", "/measure/bench", "/measure/straightness", "/work-out/solid-rivet", "/begin/canard", "/log", "/slips"]) {
    await page.goto(empty.url + path);
    await inches(path);
  }
  await page.goto(empty.url + "/holds");
  for (const href of await page.locator(".errand").evaluateAll((all) => all.map((a) => a.href))) {
    await page.goto(href);
    await inches("hold " + (await page.title()));
  }
  for (const path of [tail + "/record", tail + "/rows", setup.replace("/setups/", "/right/setup?id=")]) {
    await page.goto(path);
    await inches(path.replace(empty.url, ""));
  }
  expect(Object.fromEntries([...read].filter(([, lines]) => lines.length))).toEqual({});
});
