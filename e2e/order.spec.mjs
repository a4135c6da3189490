// The order of work: ten steps by keyboard, a helper's evening, hours that were left running.
import { checkRecord, expect, id, press, test } from "./workshop.mjs";

test("ten steps are typed, planned and packed into a helper's evening", async ({ page, empty }) => {
  await page.goto(empty.url + "/begin/low-wing");
  await page.locator("[name=name]").fill("Tansy T3");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Tansy T3" })).toBeVisible();
  await page.goto(empty.url + "/order");
  const line = page.getByLabel("What, how long, who, after what");
  await line.fill("sweep the shop");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").first()).toContainText("how long does it take");
  await expect(line).toHaveValue("sweep the shop");
  for (const text of ["dimple the skin, 3 h", "prime the ribs, 2 h, whole, cures 12 h", "rivet the skin, 2-3-5 h, two people, after dimple and prime", "hang the aileron, 2 h, after rivet", "bush the brackets, 90 min", "lay the floor, 4 h", "run the lines, 6 h, after lay", "wire the panel, 20 h, after lay", "turn it over, 40 min, 3 people", "weigh it, 2 h, after hang and wire"]) {
    await line.fill(text);
    await page.keyboard.press("Enter");
    await expect(page.locator(".board li").filter({ hasText: text.split(",")[0] }).first()).toBeVisible();
    await expect(line).toHaveValue("");
  }
  for (const [day, from, long] of [["tue", "19:00", "2 h"], ["thu", "19:00", "2"], ["sat", "09:00", "6 h"]]) {
    await page.locator(`[name="from.${day}"]`).fill(from);
    await page.locator(`[name="long.${day}"]`).fill(long);
  }
  await page.getByRole("button", { name: "Keep them" }).click();
  await expect(page.locator(".weeks a").first()).toBeVisible();
  await page.getByText("Somebody comes").click();
  const form = page.locator("form", { hasText: "People in all" });
  await form.locator("[name=who]").fill("Robin");
  await form.locator("[name=from]").fill("18:00");
  await form.locator("[name=long]").fill("4 h");
  await form.getByRole("button", { name: "Put it in" }).click();
  await expect(form.getByRole("alert")).toContainText("on which day");
  await form.locator("[name=date]").fill(new Date(Date.now() + 15 * 864e5).toISOString().slice(0, 10));
  await form.getByRole("button", { name: "Put it in" }).click();
  await page.locator("section[aria-labelledby=visits] a").first().click();
  await expect(page.locator(".parts").first()).toContainText("rivet the skin");
  await expect(page.locator(".parts").nth(1)).toContainText("dimple the skin");
  const calendar = await (await page.request.get(empty.url + "/order.ics")).text();
  expect(calendar).toContain("SUMMARY:rivet the skin");
  expect(calendar).toContain("SUMMARY:prime the ribs: cures");

  // The evening before is told in one go, wrong first; its hours are put right.
  await page.goto(empty.url + "/order");
  await page.getByText("Somebody comes").click();
  for (const [name, value] of [["who", "Robin"], ["from", "18:00"], ["long", "3 h"], ["date", new Date(Date.now() - 2 * 864e5).toISOString().slice(0, 10)]]) await form.locator(`[name=${name}]`).fill(value);
  await form.getByRole("button", { name: "Put it in" }).click();
  await expect(page.locator("section[aria-labelledby=visits] li")).toHaveCount(2);
  await page.locator("section[aria-labelledby=visits] a").first().click();
  await page.getByLabel("turn it over").check();
  await page.getByLabel("rivet the skin").check(); // what comes before it is not done: it is asked for
  await page.getByLabel("Until").fill("21:00");
  await page.getByLabel("Whose hours").fill("kit");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("alert").first()).toContainText("comes after dimple the skin, which is not done");
  await expect(page.getByLabel("rivet the skin")).toBeChecked();
  await page.getByLabel("rivet the skin").uncheck();
  await page.getByLabel("dimple the skin").check();
  await page.getByLabel("Until").fill("late");
  await page.getByLabel("Whose hours").fill("kit");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("alert").first()).toContainText("until when");
  await expect(page.getByLabel("dimple the skin")).toBeChecked();
  await page.getByLabel("Until").fill("21:00");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("heading", { name: "Hours: 6 h" })).toBeVisible();
  await page.locator("section[aria-labelledby=hours]").getByRole("link", { name: "put right" }).first().click();
  await page.getByLabel("Until").fill("20:00");
  await page.getByLabel("It was wrong").check();
  await page.getByLabel("Why?").fill("went home at eight");
  await page.getByLabel("Who says so").fill("kit");
  await page.getByRole("button", { name: "Put it right" }).click();
  await expect(page.getByRole("heading", { name: /^Hours · 5 h worked/ })).toBeVisible();
});

test("what is held says why, a step is done and not done after all, work is started and stopped", async ({ page, demo }) => {
  await page.goto(demo.url);
  await page.keyboard.press("w");
  await expect(page.locator("section[aria-labelledby=held]")).toContainText("the hold “Close the boom” is not released");
  await expect(page.locator("section[aria-labelledby=closes]")).toContainText("the boom bay closes in");
  await press(page, "Done: lay the floor");
  await page.getByText("Done lately").click();
  await page.getByRole("button", { name: "Not done after all: lay the floor" }).click();
  await expect(page.getByRole("button", { name: "Done: lay the floor", includeHidden: true })).toHaveCount(1);
  await page.locator(".tonight").getByLabel("who").fill("builder");
  await page.getByRole("button", { name: "Start", exact: true }).click();
  await expect(page.locator(".running")).toContainText("builder at work since");
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await expect(page.locator(".running")).toHaveCount(0);
  await page.getByText("Write hours down afterwards").click();
  const form = page.locator("form", { hasText: "before From is the next day" });
  await form.locator("[name=date]").fill("2026-03-28");
  await form.locator("[name=from]").fill("22:00");
  await form.locator("[name=to]").fill("one");
  await form.getByRole("button", { name: "Write it down" }).click();
  await expect(form.getByRole("alert")).toContainText("until when");
  await form.locator("[name=to]").fill("01:00");
  await form.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("alert")).toHaveCount(0);
  await checkRecord(page, demo.url);
});
