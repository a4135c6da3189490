// Anything is found from any sheet, by keyboard alone.
import { expect, test } from "./workshop.mjs";

const hit = async (page, words, name) => {
  await page.keyboard.press("/");
  await expect(page.locator("#find")).toBeFocused();
  await page.keyboard.type(words);
  await expect(page.locator("#found a").filter({ hasText: name }).first()).toBeVisible();
};

for (const width of [1280, 390]) {
  test(`found by a few letters, misspelt, and gone to: ${width} px`, async ({ page, demo }) => {
    await page.setViewportSize({ width, height: 844 });
    await page.goto(demo.url);
    await hit(page, "tailplain", "tailplane");
    for (const key of ["Tab", "Tab", "Enter"]) await page.keyboard.press(key); // past the button, to the first
    await expect(page.getByRole("heading", { level: 1 })).toContainText(/tailplane/i);
    for (const [words, name] of [["count clecos out", "Count clecos out of a closing"], ["print the card", "Print the card"], ["what is next", "What is next"], ["hole 12", "hole 12 of"], ["washout", "Twist"]]) {
      await page.goto(demo.url + "/log");
      await hit(page, words, name);
    }
    await page.keyboard.press("Escape");
    await page.keyboard.press("/");
    await page.locator("#find").fill("qqqq");
    await expect(page.locator("#found")).toContainText("Nothing here is called so");
  });
}
