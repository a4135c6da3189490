// The job on a phone that lies on the wing: 390 px, by touch.
import { angles, checkOf, expect, heights, takeAll, test, again } from "./workshop.mjs";

test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

test("the rails are surveyed, the tailplane measured and the hold released by touch", async ({ page, demo }) => {
  await page.goto(demo.url);
  await page.locator(".parts li a", { hasText: "Tailplane" }).tap();
  await page.getByRole("link", { name: /on the rails/ }).tap();
  await page.getByRole("button", { name: "Something moved" }).tap();
  await expect(page.locator(".answer")).toContainText("Not yet");
  await takeAll(page, heights);
  await page.locator(".next .do a").tap();
  await takeAll(page, angles);
  await expect(page.locator(".answer")).toContainText("+0.03°");
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.getByRole("link", { name: "Go to the hold" }).tap();
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).tap();
  await expect(page.locator(".decide")).toContainText("Released");
});

test("a wrong entry on a phone shows its message beside the field, in sight", async ({ page, demo }) => {
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=4");
  await page.locator("#text").fill("1,234");
  await again(page);
  await page.getByRole("button", { name: "Keep it", exact: true }).tap();
  const problem = page.locator("#text-problem .problem");
  await expect(problem).toContainText("1.234 or 1234?");
  await expect(problem).toBeInViewport();
  await expect(page.locator("#text")).toHaveValue("1,234");
});

test("long names and long answers stay within the sheet", async ({ page, demo }) => {
  const long = "Horizontalstabilisator-hinterer-Holm-rechts-" + "x".repeat(30);
  await page.goto(demo.url);
  await page.getByText("Add an assembly").tap();
  const form = page.locator("form", { hasText: "Add the assembly" });
  await form.getByLabel("Name").fill(long);
  await form.getByRole("radio", { name: /surface/ }).check();
  await form.locator("[name='surface.inner']").fill("0");
  await form.locator("[name='surface.outer']").fill("900");
  await form.locator("[name='surface.chord']").fill("300");
  await form.getByRole("button").tap();
  await expect(page.getByRole("heading", { name: long })).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.goto(demo.url);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});
