// Rows as they are: layers picked from the stores, holes with their real states, an oversize
// that fits, and the same again on the other side.
import { expect, id, test } from "./workshop.mjs";

test("layers are picked from the stores, and an oversize hole takes a rivet that fills it", async ({ page, demo }) => {
  await page.goto(`${demo.url}/assemblies/${id("rudder")}/rows/new`);
  await expect(page.locator("select[name=view]")).toHaveValue("from the left"); // as the part is drawn
  await page.getByLabel("Which row is it?").fill("row 1, rudder skin");
  await page.getByRole("button", { name: "aluminium 0.5 mm" }).click();
  await page.keyboard.press("d"); // the treatment is in hand
  await page.getByRole("button", { name: "aluminium 0.8 mm" }).click();
  await expect(page.locator("[name='layers.0.1']")).toHaveValue("0.5 mm");
  await expect(page.locator("[name='layers.0.2']")).toHaveValue("dimpled");
  await expect(page.locator("[name='layers.1.1']")).toHaveValue("0.8 mm");
  await page.locator("[name='layers.1.2']").selectOption("dimpled");
  for (const [name, value] of [["from.0.0", "60000"], ["from.0.1", "600"], ["to.0.0", "5500"], ["to.0.1", "1400"], ["count", "12"], ["size", "3/32"]]) await page.locator(`[name='${name}']`).fill(value);
  await page.locator("select[name=head]").selectOption("flush");
  await page.getByRole("button", { name: "Lay it out" }).click();
  await expect(page.getByRole("alert").first()).toContainText("this lies far outside the part");
  await page.locator("[name='from.0.0']").fill("5350");
  await page.getByRole("button", { name: "Lay it out" }).click();
  await expect(page.locator(".head")).toContainText("12 holes");

  for (const key of ["d", "o"]) await page.keyboard.press(key);
  const over = page.locator("#oversize");
  const fill = async (hole, rivet, dimple, why) => {
    await over.getByLabel("The hole is now").fill(hole);
    await over.getByLabel("The rivet that fills it").fill(rivet);
    if (dimple) await over.getByLabel("Its dimple").selectOption({ label: dimple });
    await over.getByLabel(/^Why/).fill(why);
    await over.getByRole("button", { name: /Drilled over/ }).click();
  };
  await fill("3.6", "1/8", "", "the drill walked");
  await expect(over.getByRole("alert")).toContainText("does not fill a hole of 3.60 mm");
  await expect(over.getByLabel("The hole is now")).toHaveValue("3.6");
  await fill("#30", "1/8", "", "the drill walked");
  await expect(over.getByRole("alert")).toContainText("does the dimple still fit");
  await fill("#30", "1/8", "a reduced-head repair rivet goes in", "the drill walked");
  await expect(page.locator("#in-hand")).toContainText("oversize");
  await expect(page.locator(".facts")).toContainText("hole 3.26 mm, rivet 1/8, a reduced-head repair rivet goes in; the drill walked");
});

test("the same setup on the other side, and the row in view on a phone", async ({ page, demo }) => {
  await page.goto(`${demo.url}/setups/${id("spar left")}`);
  await page.getByRole("link", { name: "another like this" }).click();
  await page.locator("select[name=assembly]").selectOption({ label: "Main spar, right" });
  await page.getByRole("button", { name: "Make it" }).click();
  await expect(page.locator("h1, .head").first()).toContainText("Main spar, right");
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${demo.url}/rows/${id("row 4")}?hole=50`);
  const strip = page.locator(".near-strip");
  await expect(strip.locator("a.hole")).toHaveCount(9);
  await expect(strip).toBeInViewport({ ratio: 1 });
  await strip.locator('a[aria-label^="hole 52,"]').click();
  await expect(page.locator("#in-hand")).toContainText("Hole 52");
});
