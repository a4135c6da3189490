// From an empty shop, counted: how many pages, keys and forms it takes to an answer. A click
// counts as a key, and the first page as one; each test fails when it grows.
import { expect, id, test } from "./workshop.mjs";

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

test("measure now: the twist of a part within 2 pages and 32 keys, figures among them, a wrong entry on the way", async ({ page, empty }) => {
  const hand = await counted(page);
  await page.goto(empty.url);
  await hand.click(page.getByRole("link", { name: "Is this part twisted?" }));
  const drawn = () => page.waitForFunction(() => !document.querySelector(".htmx-request, .htmx-settling, .htmx-swapping"));
  await expect(page.locator("#with")).toBeFocused();
  await hand.press("s"); // a spirit level
  await expect(page.locator("#with option:checked")).toHaveText("spirit level");
  await drawn();
  await page.locator("[name='0.lies']").first().focus();
  await hand.press("Space"); // stiff, and lying by itself
  await drawn();
  for (const text of ["0", "0.1", "0.1", "0.2"]) await hand.reading(text);
  await hand.type(page.locator("#text"), ",3,");
  await hand.press("Enter");
  await expect(page.locator("#text-problem .problem")).toBeVisible();
  await page.locator("#text").fill("");
  hand.n.keys += 3;
  await hand.reading("0.3");
  await expect(page.locator(".answer")).toContainText("+0.28°");
  await expect(page.locator(".answer")).toContainText("twist of the part, tip over root");
  console.log("measure now", hand.n);
  expect(hand.n.pages).toBeLessThanOrEqual(2);
  expect(hand.n.keys).toBeLessThanOrEqual(32); // figures and their Enter among them
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
  await hand.click(page.getByLabel("flexible, or held down"));
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
    await page.evaluate(() => document.querySelectorAll("details:not(.slip-tap)").forEach((d) => (d.open = true)));
    const found = await page.evaluate(() => {
      const copy = document.body.cloneNode(true);
      for (const typed of copy.querySelectorAll("option, .typed, s, script, style, textarea")) typed.remove();
      const said = [...copy.querySelectorAll("[aria-label], [placeholder]")].flatMap((e) => [e.getAttribute("aria-label"), e.getAttribute("placeholder")]);
      const texts = [];
      for (const walk = document.createTreeWalker(copy, NodeFilter.SHOW_TEXT); walk.nextNode(); ) texts.push(walk.currentNode.data);
      return [...texts, ...said].filter(Boolean).join("\n");
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
  await fill({ "from.0.0": "180", "from.0.1": "-50", "to.0.0": "180", "to.0.1": "50", count: "12", "layers.0.0": "aluminium", "layers.0.1": "0.032", "layers.1.0": "aluminium", "layers.1.1": "0.040", size: "1/8", edge: "5/16" });
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

// A shop with a begun aircraft, for what comes after the measuring.
async function begun(page, empty) {
  const hand = await counted(page);
  await page.goto(empty.url);
  await begin(page, hand);
  hand.n.pages = hand.n.keys = hand.n.submits = 0;
  hand.frame = page.url();
  hand.part = async (name) => {
    await page.goto(hand.frame);
    await page.locator(".parts > ol a", { hasText: name }).first().click();
  };
  return hand;
}

// prepare says that the work of a hold is done, for all its rows, and releases it.
async function ready(page) {
  const ask = page.locator("form.ask", { has: page.locator("input[value=prepared]") }).first();
  for (const tick of await ask.locator("[name=what]").all()) await tick.check();
  if (await ask.locator("[name=all]").count()) await ask.locator("[name=all]").check();
  await ask.locator("[name=by]").fill("builder");
  await ask.getByRole("button").click();
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.locator(".decide")).toContainText("Released");
}

test("60 holes are laid by pointing and are ready to rivet within 3 submits; a whole row is undone", async ({ page, empty }) => {
  const hand = await begun(page, empty);
  await hand.part("fuselage");
  await page.getByRole("link", { name: "Lay out a row" }).click();
  await page.locator("[name=name]").fill("lower stringer");
  const box = await page.locator(".point-area").first().boundingBox();
  await expect(async () => {
    await page.mouse.click(box.x + 60, box.y + box.height / 2);
    await expect(page.locator("[name='from.0.0']")).toHaveValue(/ in$/, { timeout: 500 });
  }).toPass();
  await page.mouse.click(box.x + box.width - 80, box.y + box.height / 2 + 10);
  await expect(page.locator("[name='to.0.0']")).toHaveValue(/ in$/);
  await page.locator("[name=count]").fill("60");
  await page.locator("[name=size]").fill("1/8");
  await expect(page.locator(".preview")).toContainText("60 holes at");
  for (const [i, t] of ["0.032", "0.040"].entries()) {
    await page.locator(`[name='layers.${i}.0']`).selectOption("aluminium");
    await page.locator(`[name='layers.${i}.1']`).fill(t);
  }
  await page.locator("[name=marked]").fill("builder");
  hand.n.submits = 0;
  await page.getByRole("button", { name: "Lay it out" }).click();
  const row = page.url().split("?")[0];
  await page.locator(".held-by a").click();
  await ready(page);
  expect(hand.n.submits).toBeLessThanOrEqual(3);
  // Laid on the wrong part: it is taken out again, and the reason stays.
  await page.goto(row);
  await page.getByRole("link", { name: "put right" }).click();
  await page.getByLabel(/It should not be there/).check();
  await page.getByLabel("Why?").fill("laid on the wrong part");
  await page.getByLabel("Who says so").fill("builder");
  await page.getByRole("button", { name: "Put it right" }).click();
  await expect(page.getByText("No row of holes is laid out.")).toBeVisible();
  await page.goto(empty.url + "/log");
  await expect(page.locator(".log")).toContainText("row withdrawn");
});

// Sixty holes of two ribs as the plans list them, irregular, four of them kept open.
for (const [unit, pitches] of [["in", "pitches 1 10x.8 1.2"], ["mm", "pitches 25 10x20 30"]]) {
  test(`60 holes by their call-out list: from the part to ready within 4 submits and 110 keys, ${unit}`, async ({ page, empty }) => {
    const hand = await begun(page, empty);
    if (unit === "mm") {
      await page.goto(empty.url + "/begin/low-wing");
      await page.locator("[name=name]").fill("Meadow");
      await page.getByRole("button", { name: /Begin/ }).click();
      await expect(page.getByRole("heading", { name: "Meadow" })).toBeVisible();
    }
    await page.locator(".parts > ol a", { hasText: "wing panel right" }).first().click();
    hand.n.submits = hand.n.keys = 0;
    await hand.click(page.getByRole("link", { name: "its call-outs" }));
    await expect(page.locator("[name=list]")).toBeFocused();
    const line = async (text) => {
      await page.keyboard.type(text);
      hand.n.keys += text.length;
    };
    await line("r4: 47 AD4-5; open 6,7,9,20 for tip");
    await hand.press("Enter");
    await line(`r5: 9 AD4-5, 4 AD4-6; ${pitches}`);
    await expect(page.locator("#list-read caption")).toContainText("2 rows, 60 holes");
    await expect(page.locator("#list-read")).toContainText("10–13: 3/8 in");
    await hand.type(page.locator("[name=marked]"), "BE");
    await hand.press("Enter");
    await expect(page.locator(".parts, .board").first()).toBeVisible();
    await page.locator(".row-list a, .rows-of a, a", { hasText: /^r4/ }).first().click();
    await expect(page.locator("main")).toContainText("not checked: what lies there is not known");
    console.log("call-outs", unit, hand.n);
    expect(hand.n.submits).toBeLessThanOrEqual(1);
    expect(hand.n.keys).toBeLessThanOrEqual(110);
  });
}

test("an evening of two is written down in one line", async ({ page, empty }) => {
  const hand = await begun(page, empty);
  await page.goto(empty.url + "/hours");
  hand.n.submits = 0;
  await hand.type(page.locator("[name=line]"), "yesterday 7pm to 9pm, BE and KM, tailplane");
  await hand.press("Enter");
  await expect(page.locator("#sessions + .notes")).toContainText("BE, build");
  await expect(page.locator("#sessions + .notes")).toContainText("KM, build");
  await expect(page.getByRole("row", { name: "tailplane" })).toContainText("4 h");
  expect(hand.n.submits).toBe(1);
});

test("the ribs of both wings are ready to rivet within 10 submits", async ({ page, empty }) => {
  const hand = await begun(page, empty);
  await hand.part("wing panel right");
  await page.getByRole("link", { name: "Lay out a row" }).click();
  const fill = async (fields) => {
    for (const [name, value] of Object.entries(fields)) {
      const field = page.locator(`[name="${name}"]`).first();
      if ((await field.evaluate((e) => e.tagName)) === "SELECT") await field.selectOption(value);
      else await field.fill(value);
    }
  };
  await fill({ name: "rib", "from.0.0": "37", "from.0.1": "25", "to.0.0": "80", "to.0.1": "25", count: "20", size: "1/8", "layers.0.0": "aluminium", "layers.0.1": "0.025", "layers.1.0": "aluminium", "layers.1.1": "0.025", marked: "builder", times: "14", step_1: "9.5", mirror: { label: "wing panel left" } });
  hand.n.submits = 0;
  await page.getByRole("button", { name: "Lay it out" }).click();
  for (const side of ["wing panel right", "wing panel left"]) {
    await hand.part(side);
    await page.locator("section", { hasText: "Holds" }).locator(".errand").first().click();
    await ready(page);
  }
  expect(hand.n.submits).toBeLessThanOrEqual(10);
  await hand.part("wing panel left");
  await expect(page.locator("a.errand", { hasText: "rib, 14" })).toBeVisible();
});

test("a released hold within 8 pages, from the empty shop", async ({ page, empty }) => {
  const hand = await counted(page);
  await page.goto(empty.url);
  await begin(page, hand);
  await hand.click(page.locator(".parts > ol a", { hasText: "tailplane" }));
  await page.getByText("Measure it on a pair of rails").click();
  await page.getByLabel("The rails are apart").fill("20");
  await page.getByLabel("Twist, from").fill("±0.5");
  await page.getByLabel("stiff, lying free").check();
  await page.getByRole("button", { name: "Begin the setup" }).click();
  for (const text of ["2", "2", "2", "2", "0", "0", "0"]) await hand.reading(text);
  // The level is turned end for end at the bench; what else nobody stated of it is as usual.
  await page.locator(".turn summary").click();
  await page.locator(".turn [name=first]").fill("0.1");
  await page.locator(".turn [name=turned]").fill("0.1");
  await page.getByRole("button", { name: "Keep the test" }).click();
  await expect(page.locator(".turn summary")).toContainText("zero +0.10°");
  await page.locator(".head a", { hasText: "its hold" }).click();
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.locator(".decide")).toContainText("Released");
  console.log("released hold", hand.n);
  expect(hand.n.pages).toBeLessThanOrEqual(8);
});

test("a closing with four tasks within 4 submits; what nobody counted is looked for", async ({ page, empty }) => {
  const hand = await begun(page, empty);
  await hand.part("fuselage");
  await page.getByRole("link", { name: "Put a hold before a step" }).click();
  const holdForm = page.locator("form", { has: page.locator("[name=permanent]") });
  await page.locator("[name=name]").fill("Close the tail cone");
  await page.locator("select[name=step]").selectOption("close");
  await page.locator("[name=permanent]").fill("the tail cone");
  await page.locator("[name=why]").fill("nobody reaches in again");
  await page.locator("[name=bay]").fill("tail cone");
  await page.locator("[name=tasks]").fill("rudder cables\ntail light\nprimer\npitot line");
  await holdForm.getByRole("button").last().click();
  await page.locator(".permanent a, .closes a, a[href*='/bays/']").first().click();
  await expect(page.locator(".evidence")).toContainText("nobody counted what was brought in");
  hand.n.submits = 0;
  const form = page.locator("form.ticked");
  for (const tick of await form.getByRole("checkbox").all()) await tick.check();
  await form.locator("[name=access]").fill("through the hatch under the fin");
  await form.locator("[name=by]").fill("builder");
  await form.getByRole("button").click();
  await page.locator("input[type=file]").setInputFiles("docs/screenshots/phones.png");
  await page.getByRole("button", { name: "Keep the photo" }).click();
  await page.getByRole("link", { name: "Close the tail cone" }).click();
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await page.getByRole("button", { name: /record it/ }).click();
  await expect(page.locator(".decide")).toContainText("Done");
  expect(hand.n.submits).toBeLessThanOrEqual(4);
});

test("every verdict leads to its page of the guide, and each is one screen", async ({ page, shown }) => {
  await page.goto(shown.url + "/guide");
  const pages = await page.locator(".tiles a").evaluateAll((all) => all.map((a) => a.href));
  expect(pages).toHaveLength(19);
  for (const href of pages) {
    await page.goto(href);
    expect(await page.evaluate(() => document.documentElement.scrollHeight), href).toBeLessThanOrEqual(800);
  }
  await page.goto(shown.url + "/setups/" + id("fin upright"));
  await page.locator(".next .why").click();
  await expect(page.getByRole("heading", { name: "When it says unsure" })).toBeVisible();
});
