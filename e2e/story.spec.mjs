import { angles, checkOf, checkRecord, expect, heights, id, solve, takeAll, test, instead } from "./workshop.mjs";

test("from the bench to the drill, by mouse", async ({ page, demo }) => {
  await page.goto(demo.url);
  await expect(page.getByRole("heading", { name: "Samphire S2" })).toBeVisible();
  await page.locator("a.part", { hasText: "Tailplane" }).locator(".region").first().click({ position: { x: 12, y: 12 } });
  await page.getByRole("link", { name: /on the rails/ }).click();

  await expect(page.locator(".answer")).toContainText("+0.03°");
  await page.getByRole("button", { name: "Something moved" }).click();
  await expect(page.locator(".points s").first()).toBeVisible();
  await expect(page.locator(".answer")).toContainText("Not yet");
  await expect(page.locator(".answer")).toContainText("stale since: moved");

  await page.getByRole("link", { name: "H Holds" }).click();
  await page.getByRole("link", { name: /Drill the tailplane's end holes/ }).click();
  await expect(page.locator(".decide")).toContainText("Not yet");
  await expect(page.locator(".evidence")).toContainText("6 readings are stale since (moved): take them again");
  await expect(page.getByRole("button", { name: "Release and sign" })).toHaveCount(0);
  await page.getByRole("link", { name: "to the readings" }).first().click();

  await takeAll(page, heights);
  await expect(page.locator(".answer")).toContainText("Measured");
  await expect(page.locator(".answer")).toContainText("twist of the rails");
  await page.locator(".next .do a").click();
  await takeAll(page, angles);
  const answer = page.locator(".answer");
  await expect(answer).toContainText("Go");
  await expect(answer).toContainText("+0.03°");
  await expect(answer).toContainText("± 0.06°");
  await expect(answer).toContainText("0.34° as read; 0.31° of it is the rails'");
  await page.locator("#working summary").click();
  await expect(page.locator(".working")).toContainText("reading − support");

  await page.getByRole("button", { name: "stiff, lying free" }).click();
  await expect(answer).toContainText("Stop");
  await expect(answer).toContainText("+0.34°");
  await page.getByRole("button", { name: "flexible, or held down" }).click();
  await expect(answer).toContainText("Go");

  await page.getByRole("link", { name: "Go to the hold" }).click();
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "a release carries a name" })).toBeVisible();
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.locator(".decide")).toContainText("Released");
  await page.getByLabel("A note, if there is one").fill("3/32 in, four holes");
  await page.getByRole("button", { name: /record it/ }).click();
  await expect(page.locator(".decide")).toContainText("Done");

  await page.getByRole("link", { name: "R Record" }).click();
  await expect(page.locator(".log li.is-step")).toContainText("Drill the tailplane's end holes");
  await expect(page.locator(".log li.is-release").first()).toContainText("evidence met");
  await expect(page.locator(".log li.is-event").first()).toContainText("Tailplane on the rails");
  await checkRecord(page, demo.url);
  await page.getByRole("link", { name: "T Tonight" }).click();
  await expect(page.locator(".parts")).toContainText("permanent · the two end holes at each tip");
});

// tabTo presses Tab until the element has the focus.
async function tabTo(page, locator) {
  for (let i = 0; i < 80; i++) {
    if (await locator.evaluate((element) => element === document.activeElement)) return;
    await page.keyboard.press("Tab");
  }
  throw new Error("the keyboard does not reach it");
}

test("from the bench to the drill, by keyboard alone", async ({ page, demo }) => {
  await page.goto(demo.url);
  const part = page.locator("svg a.part", { hasText: "Tailplane" }).first();
  await tabTo(page, part);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Tailplane", exact: true })).toBeVisible();
  await page.keyboard.press("m");
  await tabTo(page, page.getByRole("link", { name: "Setups" }));
  await page.keyboard.press("Enter");
  await tabTo(page, page.getByRole("link", { name: /Tailplane on the rails/ }));
  await page.keyboard.press("Enter");
  await expect(page.locator(".answer")).toContainText("Go");
  await page.keyboard.press("x");
  await expect(page.locator("#moved")).toBeFocused();
  await page.keyboard.press("Enter");
  await expect(page.locator(".answer")).toContainText("Not yet");
  for (const text of heights) {
    await expect(page.locator("#text")).toBeFocused();
    const before = await page.locator("form.reading input[name=number]").inputValue();
    await page.keyboard.type(text);
    await page.keyboard.press("Enter");
    await expect(page.locator(`form.reading input[name=number][value="${before}"]`)).toHaveCount(0);
  }
  await tabTo(page, page.locator(".next .do a"));
  await page.keyboard.press("Enter");
  for (const text of angles) {
    await expect(page.locator("#text")).toBeFocused();
    const before = await page.locator("form.reading input[name=number]").inputValue();
    await page.keyboard.type(text);
    await page.keyboard.press("Enter");
    await expect(page.locator(`form.reading input[name=number][value="${before}"]`)).toHaveCount(0);
  }
  await expect(page.locator(".answer")).toContainText("+0.03°");
  await page.keyboard.press("a");
  await page.keyboard.press("Enter");
  await page.keyboard.press("h");
  await tabTo(page, page.getByRole("link", { name: /Drill the tailplane's end holes/ }));
  await page.keyboard.press("Enter");
  await expect(page.locator(".decide")).toContainText("Ready");
  await tabTo(page, page.getByLabel("Released by"));
  await page.keyboard.type("builder");
  await page.keyboard.press("Enter");
  await expect(page.locator(".decide")).toContainText("Released");
  await tabTo(page, page.getByRole("button", { name: /record it/ }));
  await page.keyboard.press("Enter");
  await expect(page.locator(".decide")).toContainText("Done");
  await page.keyboard.press("r");
  await expect(page.locator(".log li.is-step")).toHaveCount(1);
  await page.keyboard.press("?");
  await expect(page.locator("#keys")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.locator("#keys")).toBeHidden();
});

test("with level 1 the same readings cannot decide, and the worksheet says the same", async ({ page, demo }) => {
  const level1 = async (number, text) => {
    await page.goto(`${demo.setup}?check=${checkOf("tailplane on rails", 1)}&spot=${number}`);
    await page.locator("#text").fill(text);
    await page.locator("select[name=instrument]").selectOption({ label: "level 1" });
    await instead(page, "other instrument");
    await page.locator("#text").press("Enter");
    const finer = page.locator("#text-problem", { hasText: "of 0.05° steps? What lies beside a mark" });
    await expect(finer.or(page.locator(".quiet-line", { hasText: "All is read" })).first()).toBeVisible();
    if (await finer.count()) await page.locator("#text").press("Enter"); // the same again is taken
    await expect(page.locator("form.reading")).toHaveCount(0);
  };
  const exported = async () => (await page.request.get(demo.setup + "/worksheet.json")).text();
  const before = solve(await exported())[1];
  expect(before.verdict).toBe("go");
  for (const [i, text] of angles.entries()) await level1(i + 1, text);
  await expect(page.locator(".answer")).toContainText("Unsure");
  await expect(page.locator(".answer")).toContainText("+0.03°");
  await expect(page.locator(".answer")).toContainText("± 0.12°");
  await expect(page.locator(".next")).toContainText("Place it 5 times at each point");
  const solved = solve(await exported())[1];
  const twist = solved.quantities.find((q) => q.name === "twist");
  expect(solved.verdict).toBe("unsure");
  expect(twist.value).toBeCloseTo(0.028, 12);
  expect(twist.placings).toBe(5);

  await page.goto(demo.hold);
  await expect(page.locator(".evidence")).toContainText("level 1 turned end for end");
  await expect(page.locator(".decide")).toContainText("Not yet");
  await page.getByRole("link", { name: "turn it end for end" }).click();
  const card = page.locator(".instrument", { hasText: "level 1" });
  await card.getByLabel("First", { exact: true }).fill("0.10");
  await card.getByLabel("Turned, same spot").fill("-0.20");
  await card.getByRole("button", { name: "Prove the zero" }).click();
  await expect(page.locator(".instrument", { hasText: "level 1" })).toContainText("zero −0.05°, today");
  await page.goto(demo.hold);
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "write why the step may be taken all the same" })).toBeVisible();
  await expect(page.getByLabel("Released by")).toHaveValue("builder");
  await page.getByLabel("Why may it be done all the same?").fill("a second level agrees");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.locator(".releases")).toContainText("Reason: a second level agrees");
});

test("a stop is released only with a disposition, which stays on the assembly", async ({ page, demo }) => {
  await page.goto(demo.setup);
  await page.getByRole("button", { name: "not fastened: takes the jig's shape" }).click();
  await expect(page.locator(".answer")).toContainText("Stop");
  await expect(page.locator(".next")).toContainText("Raise the tip rear support 4.2 mm");
  await page.goto(demo.hold);
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.getByRole("alert")).toHaveCount(4); // one at each empty field
  await page.getByLabel(/Who answered/).fill("kit maker");
  await page.getByLabel(/What did they say/).fill("accept to 0.4°");
  await page.getByLabel("When?").fill("3 May");
  await page.getByLabel(/Where is the answer kept/).fill("letter in the binder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.locator(".decide")).toContainText("Released");
  await page.goto(demo.setup);
  await page.locator("#moved-what").selectOption("knocked");
  await page.getByRole("button", { name: "Something moved" }).click();
  await expect(page.locator(".answer")).toContainText("Not yet");
  await page.goto(demo.url + "/assemblies/" + id("tailplane"));
  await expect(page.locator(".disposition")).toContainText("accept to 0.4°");
  await page.goto(demo.hold);
  await expect(page.locator(".releases")).toContainText("stale since (knocked)");
});
