import { expect, test } from "./workshop.mjs";
const sizes = ["315", "52", "52", "35", "205", "41", "43", "114", "33", "48"];
test("explore", async ({ page, empty }) => {
  page.setDefaultTimeout(8000);
  await page.goto(empty.url);
  await page.getByRole("link", { name: "low-wing tractor" }).click();
  await page.locator("[name=name]").fill("Tansy");
  await page.locator("[name=unit][value=in]").check().catch(() => {});
  const shot = async (n) => page.screenshot({ path: `/tmp/shots/inch-${n}.png`, fullPage: true });
  const problems = async (w) => console.log(w, page.url().replace(empty.url, ""), await page.locator(".problem").allInnerTexts());
  for (const [i, size] of sizes.entries()) await page.locator("form input[type=text], form input:not([type])").nth(i + 1).fill(size);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Tansy" })).toBeVisible();
  await page.locator(".parts > ol a", { hasText: "tailplane" }).click();
  const tail = page.url();
  await page.getByText("Measure it on a pair of rails").click();
  await page.getByLabel("The rails are apart").fill("1775");
  await page.getByLabel("Twist, from").fill("±0.15");
  await page.getByLabel("limp, or held down").check();
  await page.keyboard.press("Enter");
  await page.waitForTimeout(300);
  await problems("rails");
  await page.getByLabel("The rails are apart").press("Enter");
  await page.waitForTimeout(300);
  await problems("rails, Enter again");
  await page.getByLabel("The rails are apart").fill("17.75");
  await page.getByLabel("The rails are apart").press("Enter");
  await page.waitForTimeout(300);
  await problems("right");
  // stand height
  await page.locator("#text").fill("302"); await page.keyboard.press("Enter"); await page.waitForTimeout(300);
  await problems("302"); 
  await page.locator("#text").fill("30.2"); await page.keyboard.press("Enter"); await page.waitForTimeout(300);
  await problems("30.2");
  await page.locator("#text").fill("3020"); await page.keyboard.press("Enter"); await page.waitForTimeout(300);
  await problems("3020"); await shot("3020");
  // row
  await page.goto(tail + "/rows/new");
  await page.locator("[name=name]").fill("rib 1");
  const f = async (n, v) => page.locator(`[name='${n}']`).first().fill(v);
  await page.locator("details summary", { hasText: "More" }).click().catch(() => {});
  await f("from.0.0", "2"); await f("from.0.1", "2"); await f("to.0.0", "12"); await f("to.0.1", "2"); await f("count", "5");
  await f("layers.0.0", "aluminium"); await f("layers.0.1", "32"); await f("layers.1.0", "aluminium"); await f("layers.1.1", "0.040");
  await f("size", "4");
  await page.getByRole("button", { name: /Lay it out/ }).click(); await page.waitForTimeout(300);
  await problems("row"); await shot("row");
  // instruments
  await page.goto(empty.url + "/instruments");
  console.log((await page.locator("main").innerText()).slice(0, 1500));
  // measure now: bench, edge, length
  for (const k of ["bench", "length", "gap", "incidence"]) {
    await page.goto(empty.url + "/measure/" + k);
    console.log(k, await page.locator("form.long-form [name]").evaluateAll((l) => l.map((e) => e.name + "=" + e.value).join(" ")));
  }
  await page.goto(empty.url + "/work-out/hole-edge");
  console.log(await page.locator("main form [name]").evaluateAll((l) => l.map((e) => e.name + "=" + e.value).join(" ")));
});
