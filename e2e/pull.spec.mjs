import { expect, settled, test } from "./workshop.mjs";

// pull presses in the middle of something and lets go so many pixels to the right of it.
async function pull(page, what, by) {
  await what.scrollIntoViewIfNeeded();
  const box = await what.boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + by / 2, y, { steps: 3 });
  await page.mouse.move(x + by, y, { steps: 3 });
  await page.mouse.up();
  await settled(page);
}

for (const [unit, usual, step] of [["mm", 600, 10], ["in", 25, 0.125]]) {
  test(`places and limits are pulled on the drawing, and typed beside it: ${unit}`, async ({ page, empty }) => {
    await page.goto(empty.url + "/measure/twist");
    await page.locator(`#unit-${unit}`).check();
    await settled(page);
    await page.locator("select[name=instrument]").selectOption({ label: "digital level in steps of 0.05°" });
    await settled(page);

    // The second of five stations goes to the right by a quarter of what lies between two: its field says where to.
    const balloons = page.locator(".board circle.balloon");
    const [first, second] = [await balloons.nth(0).boundingBox(), await balloons.nth(1).boundingBox()];
    const field = page.locator("[name='0.stations.1.1']");
    const was = Number((await field.getAttribute("placeholder")).replace(/^(\d+) (\d+)\/(\d+)$/, (_, w, a, b) => Number(w) + a / b));
    await pull(page, balloons.nth(1), (second.x - first.x) / 4);
    const now = Number(await field.inputValue());
    expect(Math.abs(now - was * 1.25)).toBeLessThanOrEqual(was * 0.03 + step);
    expect(Math.abs(now / step - Math.round(now / step))).toBeLessThan(1e-9);
    const moved = await balloons.nth(1).boundingBox();
    expect(moved.x).toBeGreaterThan(second.x + (second.x - first.x) / 8);
    await expect(page.locator(".points li.current")).toContainText("root");

    await page.locator("[name='0.lies']").first().check();
    await settled(page);
    for (let i = 0; i < 5; i++) {
      await page.locator("#text").fill("0.05");
      await page.locator("#text").press("Enter");
      await settled(page);
      if (i < 4) await expect(page.locator(".points li.current")).toContainText(["inner", "mid", "outer", "tip"][i]);
    }
    await expect(page.locator(".answer .verdict")).toBeVisible();
    const high = page.locator(".grip[data-end=high]");
    await pull(page, high, 24);
    const limit = Number(await page.locator("#limit-high").inputValue());
    expect(limit).toBeGreaterThan(0.16);
    await expect(page.locator(".limit-beside button").first()).toBeFocused();
    await expect(page.locator(".limit-beside")).toContainText("usual"); // nothing is set before it is pressed
    await page.keyboard.press("Enter");
    await settled(page);
    await expect(page.locator("#limit-high")).toHaveValue(new RegExp(String(limit)));
    await expect(page.locator(".limit-beside")).not.toContainText("usual");
  });
}
