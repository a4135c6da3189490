// From an empty inch shop: what cannot be so is asked at the field, in inches, and confirmed by one
// press; what nobody meant is not taken.
import { expect, test } from "./workshop.mjs";

const sizes = ["315", "52", "52", "35", "205", "41", "43", "114", "33", "48"];

async function begin(page, empty) {
  await page.goto(empty.url);
  await page.getByRole("link", { name: "low-wing tractor" }).click();
  await page.locator("[name=name]").fill("Tansy");
  await page.locator("[name=unit][value=in]").check();
  for (const [i, size] of sizes.entries()) await page.locator("[name^='size.']").nth(i).fill(size);
  await page.keyboard.press("Enter");
  await page.locator(".parts > ol a", { hasText: "tailplane" }).click();
  return page.url();
}

// asks demands one question beside a field, in inches.
async function asks(page, text) {
  const problem = page.locator("main .problem", { hasText: text });
  await expect(problem).toHaveCount(1);
  expect(await problem.innerText()).not.toMatch(/\d mm\b/);
}

test("an empty inch shop: hundredfold slips, one end of a limit, dash numbers and bare figures are asked", async ({ page, empty }) => {
  page.setDefaultTimeout(10_000);
  const tail = await begin(page, empty);

  // 7: rails that are apart 1775 where 17.75 was meant. Enter does not confirm; a press does.
  await page.getByText("Measure it on a pair of rails").click();
  await page.getByLabel("The rails are apart").fill("1775");
  await page.getByLabel("Twist, from").fill("±0.15");
  await page.getByLabel("flexible, or held down").check();
  await page.keyboard.press("Enter");
  await asks(page, "1775 is of another size than the part (19.800 in");
  await page.getByLabel("The rails are apart").press("Enter");
  await asks(page, "1775 is of another size");
  await page.getByLabel("The rails are apart").fill("62");
  await page.getByLabel("The rails are apart").press("Enter");
  await asks(page, "62 is of another size");
  await page.getByRole("button", { name: "It is so: go on" }).click();
  await expect(page.locator(".checks")).toBeVisible();
  // A stand that is higher than the part is long; said once more it is so.
  await page.locator("#text").fill("302");
  await page.keyboard.press("Enter");
  await asks(page, "302 is more than the whole part is long (114 in)");
  await page.locator("#text").press("Enter");
  await expect(page.locator(".points .value b").first()).toContainText("302");

  // 7 and 8: a layer of 32, a rivet of 4.
  await page.goto(tail + "/rows/new");
  await page.getByLabel("Which row is it?").fill("rib 1");
  const fill = async (name, value) => {
    const field = page.locator(`[name='${name}']`).first();
    if ((await field.evaluate((e) => e.tagName)) === "SELECT") await field.selectOption(value);
    else await field.fill(value);
  };
  for (const [name, value] of [["from.0.0", "5"], ["from.0.1", "2"], ["to.0.0", "25"], ["to.0.1", "2"], ["count", "5"], ["layers.0.0", "aluminium"], ["layers.0.1", "32"], ["layers.1.0", "aluminium"], ["layers.1.1", "0.040"], ["size", "4"]]) await fill(name, value);
  await page.getByRole("button", { name: "Lay it out" }).click();
  await asks(page, "32 is no usual thickness of a layer (0.004 in to 0.394 in)");
  await asks(page, "a dash number is written -4");
  await fill("layers.0.1", "0.032");
  await fill("size", "-4");
  await page.getByRole("button", { name: "Lay it out" }).click();
  await asks(page, "far outside the part as it is drawn");
  await page.getByRole("button", { name: "It is so: go on" }).click();
  await expect(page.locator(".head h1")).toContainText("rib 1");
  await expect(page.locator("main")).toContainText("1/8");

  // 6: one end of a limit of what has two sides by nature is ±; else it is asked, and answered by a press.
  await page.goto(empty.url + "/measure/length");
  const drawn = () => page.waitForFunction(() => !document.querySelector(".htmx-request, .htmx-settling, .htmx-swapping"));
  await page.locator("[name=unit][value=in]").check();
  await drawn();
  await page.locator("select[name=instrument]").selectOption({ label: "tape in 1/32 in" });
  await drawn();
  await page.getByText("Limits: the usual ones").click();
  await page.locator("[name='0.low.length']").fill("19.9");
  await page.locator("#text").click();
  await drawn();
  await expect(page.locator(".limit").first()).toContainText("in");
  await page.locator("#text").fill("20");
  await page.keyboard.press("Enter");
  await asks(page, "is wanted, from the plans"); // its design, which nothing stands in for
  await page.locator("[name='0.design']").fill("20");
  await page.locator("#text").click();
  await drawn();
  await page.locator("#text").press("Enter");
  await asks(page, "only one end: ±19.9, or at least 19.9?");
  await page.getByRole("button", { name: "at least 19.9" }).click();
  await expect(page.locator(".answer")).toContainText("+20");
  await page.getByRole("link", { name: "limits and points" }).click();
  await expect(page.locator("[name='low.length']")).toHaveValue("19.9");
  await expect(page.locator("[name='high.length']")).toHaveValue("");

  // 8: an oversize hole is no go while nobody says what fills it; a diameter of 4 is no length.
  await page.goto(empty.url + "/work-out/hole-edge");
  await page.locator("[name=unit][value=in]").check();
  for (const [name, value] of [["0.diameter", "4"], ["0.edges.0.0", "0.3"], ["0.pitches.0.0", "1"]]) await fill(name, value);
  await page.locator("main form").getByRole("button").last().click();
  await asks(page, "a dash number is written -4");
  await fill("0.diameter", "-4");
  await fill("0.oversize", "0.16");
  await page.locator("main form").getByRole("button").last().click();
  await expect(page.locator("main")).toContainText("which rivet fills the hole then");

  // 9: bare figures on Instruments are inches in an inch shop.
  await page.goto(empty.url + "/instruments");
  const rule = page.locator("section, li, article", { hasText: "rule in 1/64 in" }).last();
  await page.getByText("Spread: ten placings on one spot").first().click();
  for (const [i, text] of ["4.125", "4.125", "4.13", "4.14", "4.125", "4.13", "4.125", "4.14", "4.125", "4.13"].entries()) await page.locator("form[action$='/spread'] input:not([type=hidden]), [name^=spread]").nth(i).fill(text);
  await page.getByRole("button", { name: "Find the spread" }).first().click();
  await expect(rule).toContainText(/0\.00[56]\d* in/);
});
