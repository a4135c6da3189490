// Two tabs, and answers that never come: nothing is taken for something else.
import { checkOf, checkRecord, expect, id, test, again } from "./workshop.mjs";

const row = (demo) => demo.url + "/rows/" + id("row 3");

test("a tab that was left behind is told both versions, and stores nothing", async ({ page, demo, context }) => {
  const spot = demo.setup + "?check=" + checkOf("tailplane on rails", 0) + "&spot=2";
  const other = await context.newPage();
  await page.goto(spot);
  await other.goto(demo.setup);
  await other.locator("#moved-what").selectOption("knocked");
  await other.locator("#moved").click();
  await expect(other.locator(".verdict")).toContainText("Not yet");
  await page.locator("#text").fill("50.5");
  await again(page);
  await page.locator("#text").press("Enter");
  const told = page.locator(".problem").first();
  await expect(told).toContainText("it showed the setup in its state 1");
  await expect(told).toContainText("in state 2: knocked came in between");
  await expect(page.locator("#text")).toHaveValue("50.5");
  await page.locator("#text").press("Enter"); // from the page as it is now
  await expect(page.locator(".points li", { hasText: "R1" })).toContainText("50.5 mm");

  // And a reading that two take at one place.
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 0) + "&spot=3");
  await other.goto(page.url());
  for (const [tab, text] of [[page, "52.5"], [other, "53"]]) {
    await tab.locator("#text").fill(text);
    await tab.locator("#text").press("Enter");
  }
  await expect(other.locator(".problem").first()).toContainText("52.5, read at");
  await expect(other.locator("#text")).toHaveValue("53");
});

test("a set rivet whose answer is lost is not lost behind a bad one", async ({ page, demo }) => {
  await page.goto(row(demo) + "?hole=62");
  await expect(page.locator("#in-hand")).toContainText("Hole 62");
  await page.route("**/holes", async (route) => {
    await route.fetch(); // it is stored
    await route.abort("connectionreset"); // and nobody hears of it
  }, { times: 1 });
  await page.keyboard.press("Space");
  await expect(page.locator("#waiting")).toContainText("hole 62: set");
  await expect(page.locator("#in-hand")).toContainText("Hole 63"); // a second Space sets no second rivet at 62
  await expect(page.locator("#waiting")).toBeHidden();
  await page.goto(row(demo) + "?hole=62");
  await expect(page.locator("#in-hand")).toContainText("set");
  await page.keyboard.press("b");
  await page.keyboard.press("2");
  await expect(page.locator(".head")).toContainText("2 bad");
  await checkRecord(page, demo.url);
});

test("two tabs undo each what it shows, or nothing", async ({ page, demo, context }) => {
  const other = await context.newPage();
  await page.goto(row(demo) + "?hole=43");
  await page.keyboard.press("Space");
  await expect(page.locator(".undo")).toContainText("Undo set at 43");
  await page.keyboard.press("Space");
  await expect(page.locator(".undo")).toContainText("Undo set at 44");
  await other.goto(row(demo));
  for (const tab of [page, other]) await expect(tab.locator(".undo")).toContainText("Undo set at 44");
  await page.locator(".undo button").click();
  await expect(page.locator(".undo")).toContainText("Undo set at 43");
  await other.locator(".undo button").click();
  await expect(other.locator(".problem").first()).toContainText("set at hole 43");
  await expect(other.locator('a.hole[aria-label^="hole 43,"]')).toHaveAttribute("aria-label", /set/);
});
