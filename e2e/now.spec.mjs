// The whole evening, counted: keys pressed one by one, besides the figures and their Enter; from an empty shop.
import { expect, settled, test } from "./workshop.mjs";

// Counted types on a page and counts what is pressed besides figures and their Enter, and the pages that are opened.
class Counted {
  constructor(page) {
    this.page = page;
    this.keys = 0;
    this.pages = 1; // the one that stands there
    page.on("domcontentloaded", () => this.pages++);
  }
  async press(...keys) {
    for (const key of keys) {
      this.keys++;
      await this.page.keyboard.press(key);
      await this.settled();
    }
  }
  async settled() {
    await this.page.waitForFunction(() => document.readyState === "complete" && !document.querySelector(".htmx-request, .htmx-settling, .htmx-swapping"));
    await this.page.waitForTimeout(60);
  }
  // figure types a figure and its Enter, and waits until it is kept.
  async figure(text) {
    const before = await this.page.locator("form.reading [name=id]").inputValue();
    await this.page.keyboard.type(text);
    await this.page.keyboard.press("Enter");
    await expect(this.page.locator(`form.reading [name=id][value="${before}"]`)).toHaveCount(0);
    await this.settled();
  }
}

for (const [unit, width] of [["mm", 1280], ["in", 1280], ["mm", 390], ["in", 390]]) {
  test(`is this part twisted, from an empty shop, by keyboard: ${unit}, ${width} px`, async ({ page, empty }) => {
    await page.setViewportSize({ width, height: 844 });
    await page.goto(empty.url);
    const by = new Counted(page);
    await by.press("2"); // the tile of a twist
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Is this part twisted?");
    await expect(page.locator("#with")).toBeFocused();
    const said = unit === "in" ? ["Shift+Tab", "ArrowRight", "Tab"] : []; // once: it is kept for the next time
    await by.press(...said, "s", "Tab", "Space", "Tab", "Tab"); // a spirit level; stiff, lying by itself; to the field
    await expect(page.locator("#text")).toBeFocused();
    for (const text of ["0.02", "0.03", "0.02", "0.04", "0.03"]) await by.figure(text);
    await expect(page.locator(".answer .figure-large")).toContainText("+0.01°");
    await expect(page.locator(".sizes summary")).toContainText("the answer does not hang on them");
    await expect(page.locator(".limit-beside")).toContainText("usual, not your plans'");
    expect([by.pages, by.keys], "pages, keys").toEqual([2, 6 + said.length]);

    // To a first go: two more rounds in place.
    for (const round of [1, 2]) {
      await by.press("n");
      await expect(page.locator("#text")).toBeFocused();
      for (const [i, text] of ["0.03", "0.02", "0.03", "0.04", "0.04"].entries()) {
        if (round === 1 && i === 0) {
          await page.keyboard.type(text);
          await by.press("Tab", "Space"); // lifted off and set a little beside
          await page.keyboard.press("Enter");
          await expect(page.locator(".points li.current")).toContainText("inner");
          await by.settled();
        } else await by.figure(text);
      }
      if (await page.locator(".verdict.go").count()) break;
    }
    await expect(page.locator(".answer")).toContainText("Go");
    await expect(page.locator(".answer")).toContainText("the usual limits, not your plans'");
    expect([by.pages, by.keys <= 12 + said.length], `pages and keys to a go: ${by.keys}`).toEqual([2, true]);
  });
}

for (const [unit, heights] of [["mm", ["100", "102", "100", "103"]], ["in", ["4", "4 1/16", "4", "4 1/8"]]]) {
  test(`a jig of four stands is levelled, with the moves of each, in two pages: ${unit}`, async ({ page, empty }) => {
    if (unit === "in") await page.context().addCookies([{ name: "unit", value: "in", url: empty.url }]);
    await page.goto(empty.url);
    const by = new Counted(page);
    await by.press("1", "r"); // the tile of a bench; a rule
    await page.locator("#text").focus();
    for (const text of heights) await by.figure(text);
    await expect(page.locator(".answer .figure-large")).toContainText("°");
    await page.keyboard.press("Escape");
    await by.press("a"); // the arithmetic, and the moves with it
    await expect(page.locator(".working")).toContainText(/raise|lower/i);
    await expect(page.locator("main")).toContainText("usual, not your plans'");
    if (unit === "in") expect(await page.locator("main").innerText()).not.toMatch(/\d mm\b/);
    expect(by.pages, "pages").toBe(2);
  });
}

test("one wrong distance is mended by one field and one press, and the readings stay", async ({ page, demo }) => {
  await page.goto(demo.setup);
  const before = await page.locator(".points").innerText();
  await page.getByText("Where things are").click();
  const field = page.locator(".sizes input:visible").first();
  const was = await field.inputValue();
  await field.fill("3 or 4");
  await page.getByRole("button", { name: "It lies so" }).click();
  await expect(page.locator(".sizes .problem")).toBeVisible();
  await expect(page.locator(".sizes input:visible").first()).toHaveValue("3 or 4");
  await page.locator(".sizes input:visible").first().fill(String(Number(was) + 5));
  await page.getByRole("button", { name: "It lies so" }).click();
  await expect(page.locator(".sizes .problem")).toHaveCount(0);
  expect(await page.locator(".points").innerText()).toBe(before);
  await page.goto(demo.url + "/log");
  await expect(page.locator("main")).toContainText("as it is:");
});

test("what is typed and not kept outlives a closed tab, at each place", async ({ page, empty }) => {
  await page.goto(empty.url + "/measure/twist");
  await page.locator("select[name=instrument]").selectOption({ label: "spirit level" });
  await settled(page);
  await page.locator("#text").focus();
  await page.keyboard.type("0.02");
  await settled(page);
  await page.locator(".points a.value").nth(1).click();
  await expect(page.locator(".points li.current")).toContainText("inner");
  await page.locator("#text").focus();
  await page.keyboard.type("0.03");
  await expect(page.locator(".value.drafted")).toContainText("0.02");
  await page.close();
  const again = await page.context().newPage();
  await again.goto(empty.url + "/measure/twist");
  await expect(again.locator("#text")).toHaveValue("0.02");
  await expect(again.locator(".value.drafted")).toContainText("0.03");
  await again.locator("[name='0.lies']").first().check();
  await again.locator("#text").press("Enter");
  await expect(again.locator(".points li.current")).toContainText("inner");
});
