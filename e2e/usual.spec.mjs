// One journey through the usual checks of each assembly: its form, real readings in walking
// order, and what goes wrong on the way: a slip, a mistype put right, a move.
import { again as placed, expect, id, instead, settled, test } from "./workshop.mjs";

const begin = async (page, demo, assembly, usual, limits) => {
  await page.goto(`${demo.url}/assemblies/${assembly}/usual/${usual}`);
  const any = ["A length against the plans", "Two readings, one less the other", "A gap or clearance", "A hand, by looking"];
  for (const check of await page.locator("form.long-form > fieldset").all()) {
    if (any.includes((await check.locator("legend").first().innerText()).trim())) continue;
    await check.locator("[name$='.take']").check();
    for (const field of await check.locator("[placeholder]").all()) await field.fill(await field.getAttribute("placeholder"));
  }
  for (const [name, value] of Object.entries(limits)) await page.locator(`[name="${name}"]`).fill(value);
  for (const lies of await page.locator("select[name$='.lies']").all()) await lies.selectOption("stiff, and lying by itself");
  await page.getByRole("button", { name: "Begin the setup" }).click();
  await expect(page.locator(".checks")).toBeVisible();
};

// check goes to the n-th check of the setup.
const check = (page, n) => page.locator(".checks > a").nth(n).click();

const keep = async (page, text) => {
  const id = await page.locator("form.reading input[name=id]").inputValue();
  await page.locator("#text").fill(text);
  await placed(page);
  await page.locator("#text").press("Enter");
  await expect(page.locator(`form.reading input[name=id][value="${id}"]`)).toHaveCount(0);
  await settled(page);
};

const all = async (page, texts) => {
  for (const text of texts) await keep(page, text);
};

// again puts a reading in place of the one at the point of that number.
const again = async (page, number, text, reason) => {
  await page.locator(".points a.value").nth(number - 1).click();
  await instead(page, reason);
  await keep(page, text);
};

const says = (page, ...texts) => Promise.all(texts.map((text) => expect(page.locator(".answer")).toContainText(text)));

test("main spar: an inch misread at the root brackets is questioned, and read again", async ({ page, demo }) => {
  await begin(page, demo, id("main spar right"), "main-spar", { "0.low.bow": "-2", "0.high.bow": "2", "1.low.tip_difference": "-400", "1.high.tip_difference": "400" });
  await page.locator("select[name=instrument]").selectOption({ label: "600 mm rule" });
  await all(page, ["15", "15.5", "16", "15"]);
  await says(page, "Go", "bow, a hump is plus");
  await check(page, 1);
  await page.locator("select[name=instrument]").selectOption({ label: "600 mm rule" });
  await keep(page, "60");
  await keep(page, "85.4");
  await expect(page.locator("#text-problem")).toContainText("one whole inch, misread or a burnt inch not taken off, from its twin (60)");
  await expect(page.locator("#text")).toHaveValue("85.4");
  await keep(page, "60.5");
  await says(page, "tip difference", "Go");
  await page.goto(demo.url + "/log");
  await expect(page.locator(".log li.is-reading", { hasText: "85.4 questioned" })).toHaveCount(1);
});

test("tailplane: incidence, level, brackets, square, with a move carried out and read again", async ({ page, demo }) => {
  await begin(page, demo, id("tailplane"), "tailplane", {
    "0.low.incidence_error": "-0.15", "0.high.incidence_error": "0.15", "1.low.roll": "-0.1", "1.high.roll": "0.1",
    "2.low.tip_difference": "-5", "2.high.tip_difference": "5", "3.low.skew": "-0.1", "3.high.skew": "0.1",
  });
  await page.locator("select[name=instrument]").selectOption({ label: "level 2" });
  await all(page, ["0.00"]);
  await all(page, ["0.6 down", "0.6 down"]);
  await says(page, "Stop", "Carry out the 2 moves", "Raise the left rear 2.9 mm; raise the right rear 2.9 mm");
  await page.locator("#moved-what").selectOption("re-levelled");
  await page.getByRole("button", { name: "Something moved" }).click();
  await says(page, "Not yet");
  await all(page, ["0.00", "1.02 down", "0.98 down"]);
  await says(page, "Go");
  await check(page, 1);
  await all(page, ["0.02 L", "0.03 R"]);
  await says(page, "Go", "+0.05°");
  await check(page, 2);
  await page.locator("select[name=instrument]").selectOption({ label: "600 mm rule" });
  await all(page, ["1730", "1730.5"]);
  await says(page, "Unsure", "Do not drill yet");
  await check(page, 3);
  await all(page, ["5816", "5821.5", "3640.5", "3645"]);
  await says(page, "Unsure", "+0.13°");
  await page.locator("#working summary").click();
  await expect(page.locator(".working")).toContainText("lateral");
});

test("fin: one more placing decides, and the hold opens", async ({ page, demo }) => {
  await page.goto(demo.url + "/setups/" + id("fin upright"));
  await says(page, "Unsure", "Place it 2 times at each point");
  for (const [number, text] of [[1, "0.00"], [2, "3.27"], [3, "3.14"]]) {
    await page.locator(".points a.value").nth(number - 1).click();
    await keep(page, text);
  }
  await says(page, "Go");
  await page.getByRole("link", { name: "Go to the hold" }).click();
  await expect(page.locator(".decide")).toContainText("Ready");
});

test("elevator: pushed straight by hand is not straight", async ({ page, demo }) => {
  await begin(page, demo, id("rudder"), "elevator", { "1.low.twist": "-0.15", "1.high.twist": "0.15", "2.high.worst": "1" });
  await check(page, 1);
  await page.locator("select[name=instrument]").selectOption({ label: "level 2" });
  for (const text of ["0.00", "0.02 up", "0.03 up"]) {
    await page.locator("select[name=condition]").selectOption("pushed by hand");
    await keep(page, text);
  }
  await says(page, "Not yet", "inboard, angle was read pushed by hand; only hands off counts");
  for (const number of [1, 2, 3]) {
    await page.locator(".points a.value").nth(number - 1).click();
    await page.locator("select[name=condition]").selectOption("hands off");
    await instead(page, "misread");
    await keep(page, ["0.02 up", "0.04 up", "0.05 up"][number - 1]);
  }
  await says(page, "Go");
  await check(page, 2);
  await all(page, ["30", "12", "30.5", "12", "30", "13.5", "29.5", "12", "30", "12.5"]);
  await says(page, "furthest from the line");
});

test("wing panel: a mistyped washout is put right", async ({ page, demo }) => {
  await begin(page, demo, id("wing panel left"), "wing-panel", { "0.low.twist_error": "-0.4", "0.high.twist_error": "0.4", "0.high.kink": "0.3", "1.low.rack_offset": "-3", "1.high.rack_offset": "3" });
  await page.locator("select[name=instrument]").selectOption({ label: "level 2" });
  await all(page, ["2.5 up", "2.05 up", "2.1 up", "0.25 up"]);
  await says(page, "Stop");
  await again(page, 3, "1.2 up", "mistyped");
  await says(page, "Go");
  await expect(page.locator(".points li").nth(2)).toContainText("+1.20°");
  await check(page, 1);
  await page.locator("select[name=instrument]").selectOption({ label: "600 mm rule" });
  await all(page, ["1010", "940", "560", "1124", "1126.5"]);
  await says(page, "−1.4", "Unsure"); // the five lengths do not close
  await page.locator("#working summary").click();
  await expect(page.locator(".working")).toContainText("the five lengths do not close");
});

test("aileron: gaps are trimmed towards the middle, travel is compared", async ({ page, demo }) => {
  await begin(page, demo, id("aileron left"), "aileron", { "1.low.twist": "-0.15", "1.high.twist": "0.15", "3.low.mismatch": "-1", "3.high.mismatch": "1" });
  await check(page, 1);
  await page.locator("select[name=instrument]").selectOption({ label: "level 2" });
  await all(page, ["0.00", "0.01 up", "0.02 up"]);
  await says(page, "Go");
  await check(page, 2);
  await page.locator("select[name=instrument]").selectOption({ label: "600 mm rule" });
  await all(page, ["4.5", "3", "5"]);
  await says(page, "Unsure", "gap at middle", "Move it further inside its limit");
  await again(page, 2, "2", "misread");
  await says(page, "Stop", "Trim the middle by 2.5 mm");
  await page.getByRole("button", { name: "Something moved" }).click();
  await check(page, 2);
  await expect(page.locator(".points s").first()).toBeVisible();
  await all(page, ["4.5", "4.5", "5"]);
  await says(page, "Go");
  await check(page, 3);
  await all(page, ["22.4", "13.6", "21.9", "13.1"]);
  await says(page, "Go", "up, right less left");
});

test("boom: its stands are surveyed first, then squared and sighted along", async ({ page, demo }) => {
  await begin(page, demo, id("tail boom"), "boom", { "0.low.twist": "-0.2", "0.high.twist": "0.2", "1.low.rack_offset": "-3", "1.high.rack_offset": "3", "2.low.bow": "-1", "2.high.bow": "1" });
  await page.locator("select[name=instrument]").selectOption({ label: "600 mm rule" });
  await all(page, ["50", "50", "50", "50"]);
  await says(page, "Go", "twist of the rails");
  await check(page, 1);
  await all(page, ["300", "300", "400", "500", "500"]);
  await says(page, "Go");
  await check(page, 2);
  await all(page, ["10", "10.5", "10", "10"]);
  await says(page, "Unsure");
});

test("canard: the pushed reading is taken back, and the foreplane has its margin", async ({ page, demo }) => {
  await page.goto(demo.url + "/setups/" + id("foreplane on fuselage"));
  await says(page, "Not yet", "forward surface was read pushed by hand");
  await page.locator(".points a.value").first().click();
  await page.getByText(/All readings of/).click();
  await page.locator(".record li", { hasText: "3.2 up" }).getByRole("button").click();
  await says(page, "Go", "+3.10°");
  await page.getByRole("link", { name: "Go to the hold" }).click();
  await expect(page.locator(".decide")).toContainText("Ready");
});

test("engine mount: washers are added, and every pad is read again", async ({ page, demo }) => {
  await page.goto(demo.url + "/setups/" + id("mount pads"));
  await says(page, "Stop", "Carry out the 3 moves", "Washers under UR, 0.2 mm");
  await page.getByRole("button", { name: "Something moved" }).click();
  await all(page, ["320.5", "307", "311.5", "298"]);
  await says(page, "Unsure", "Place it 2 times at each point");
  for (const [i, text] of ["320.5", "307", "311.5", "298"].entries()) {
    await page.locator(".points a.value").nth(i).click();
    await keep(page, text);
  }
  await says(page, "Go");
  await page.getByRole("link", { name: "Go to the hold" }).click();
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.locator(".decide")).toContainText("Released");
});

test("the form of usual checks keeps what was typed and says what is wrong with it", async ({ page, demo }) => {
  await page.goto(demo.url + "/assemblies/" + id("fin") + "/usual/fin");
  await page.locator('[name="0.height"]').fill("tall");
  await page.locator('[name="0.low.lean"]').fill("0.1");
  await page.locator('[name="0.high.lean"]').fill("-0.1");
  await page.locator('[name="0.take"]').check();
  await page.getByRole("button", { name: "Begin the setup" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "tall" })).toBeVisible();
  await page.locator('[name="0.height"]').fill("1310");
  await page.getByRole("button", { name: "Begin the setup" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "low above high" })).toBeVisible();
  await expect(page.locator('[name="1.take"]')).not.toBeChecked();
  await expect(page.locator('[name="0.low.lean"]')).toHaveValue("0.1");
});
