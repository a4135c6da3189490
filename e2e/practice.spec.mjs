// The trainer: an exercise played well, one played badly, and nothing of it in the shop.
import { expect, test } from "./workshop.mjs";

// The seed is drawn anew each time; a route puts a known one into the form.
async function play(page, name, seed) {
  await page.getByRole("button", { name: `Play: ${name}` }).evaluate((button, seed) => {
    const field = document.createElement("input");
    field.type = "hidden";
    field.name = "seed";
    field.value = seed;
    button.form.append(field);
  }, seed);
  await page.getByRole("button", { name: `Play: ${name}` }).click();
  await expect(page.getByRole("region", { name: "Practice" })).toContainText(name);
}

// take takes what the instrument shows once it is steady; it drops out now and then, as real ones do.
async function take(page, then) {
  await expect(async () => {
    await expect(page.locator("#gauge")).toHaveClass(/ready/);
    await page.keyboard.press("Escape");
    await page.keyboard.press("g");
    await expect(page.getByRole("link", { name: then })).toBeVisible({ timeout: 4000 });
  }).toPass();
}

test("rails or part, played as the program advises, is left or drilled rightly", async ({ page, empty }) => {
  await page.goto(empty.url + "/");
  await page.getByRole("link", { name: "Hidden parts, true instruments" }).click();
  await play(page, "Rails or part", "0"); // rails and part are both twisted
  for (let i = 1; i <= 10; i++) await take(page, new RegExp(`^Twist ${i} of 10`));
  await expect(page.locator(".below")).toContainText("Stop");
  await page.getByRole("button", { name: "Leave it: it is not right" }).click();
  await expect(page.getByText("Left, and right")).toBeVisible();
  await expect(page.locator(".truth-drawing")).toBeVisible();
  await page.reload();
  await page.getByRole("link", { name: "Exercises" }).first().click();
  await expect(page.locator(".exercises li").first()).toContainText("1 of 1");
  // nothing of it is in the shop
  const api = await (await fetch(empty.url + "/api/v1")).json();
  expect(api.last.seq).toBe(0);
  expect(api.aircraft).toEqual([]);
});

test("the level never turned, drilled in haste, says what was missed", async ({ page, demo }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(demo.url + "/sheets");
  await page.getByRole("link", { name: "Practice" }).first().click();
  await play(page, "The level never turned", "0"); // it is rolled
  await take(page, /^Roll 1 of 2/);
  await page.getByRole("button", { name: /^Drill/ }).click();
  await expect(page.getByText("Drilled outside its limits")).toBeVisible();
  await expect(page.getByText("1 of 2 places were read")).toBeVisible();
  await expect(page.getByText("A level shows its own zero as well.")).toBeVisible();
  // it cannot be undrilled
  await page.goBack();
  await page.reload();
  await expect(page.getByRole("region", { name: "Practice" })).not.toContainText("never turned");
  await page.goto(demo.url + "/practice/exercises");
  await expect(page.locator(".exercises li").nth(1)).toContainText("0 of 1");
  await page.getByRole("link", { name: "Back to your own shop" }).click();
  await expect(page.getByRole("heading", { name: /Samphire S2/ })).toBeVisible();
});
