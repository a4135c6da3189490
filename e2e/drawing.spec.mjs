// The drawing is the form, and the answer moves as one types: from an empty shop, in millimetres and inches, wide and on a
// phone, to a first go with nothing proven.
import { again, expect, settled, test } from "./workshop.mjs";

const stations = { mm: ["0", "600", "1200", "1800"], in: ["0", "24", "48", "72"] };

// said waits until what was said before the first reading is drawn.
const said = (page) => page.waitForFunction(() => !document.querySelector(".htmx-request, .htmx-settling, .htmx-swapping"));

async function begin(page, url, unit, instrument) {
  await page.goto(url + "/measure/twist");
  await page.locator(`[name=unit][value=${unit}]`).check();
  await said(page);
  await page.locator(".sizes summary").first().click();
  await page.getByRole("link", { name: "one place fewer" }).click();
  await expect(page.locator(".places > span")).toHaveCount(4);
  for (const [i, y] of stations[unit].entries()) {
    for (const [j, text] of [["root", "inner", "mid", "outer"][i], y].entries()) {
      await page.locator(`[name='0.stations.${i}.${j}']`).fill(text);
      await page.locator(`[name='0.stations.${i}.${j}']`).press("Tab");
      await said(page);
    }
  }
  await page.locator("[name='0.lies']").first().check();
  await said(page);
  await page.locator("select[name=instrument]").selectOption({ label: instrument });
  await said(page);
  await expect(page.locator("#text")).toBeVisible();
}

const keep = async (page, text) => {
  const id = await page.locator("form.reading input[name=id]").inputValue();
  await page.locator("#text").fill(text);
  await page.locator("#text").press("Enter");
  await expect(page.locator(`form.reading input[name=id][value="${id}"]`)).toHaveCount(0);
  await settled(page);
};

for (const [unit, width] of [["mm", 1280], ["in", 1280], ["mm", 390], ["in", 390]]) {
  test(`a first go with a spirit level, nothing proven: ${unit}, ${width} px`, async ({ page, empty }) => {
    await page.setViewportSize({ width, height: 844 });
    await begin(page, empty.url, unit, "spirit level");
    await expect(page.locator(".on-drawing")).toHaveCount(width > 820 ? 1 : 0);
    await keep(page, "0.02");
    await keep(page, "0.03");
    // What stands in the field is answered and not kept; taken out of it, the answer is what it was.
    await page.locator("#text").fill("0.15");
    await expect(page.locator("#below")).toContainText("Not kept");
    await expect(page.locator("#below")).toContainText("+0.13°");
    await page.locator("#text").fill("");
    await expect(page.locator("#below")).toContainText("2 readings to go");
    await keep(page, "0.02");
    await keep(page, "0.05");
    await expect(page.locator(".answer")).toContainText("Unsure");
    await page.getByRole("link", { name: "Place it 3 times at each point" }).click();
    await expect(page.locator(".points li.current")).toContainText("covered");
    await again(page, "moved"); // said once
    for (const round of [1, 2]) {
      if (round === 2) await page.locator(".points a.value").first().click();
      for (const text of ["0.03", "0.02", "0.04", "0.06"]) {
        await expect(page.locator("[name=in_place][value=moved]")).toBeChecked();
        const before = await page.locator("#below").innerText();
        await page.locator("#text").fill(text);
        await expect(page.locator("#echo")).toContainText("read as");
        expect(await page.locator("#below").innerText(), "while it is read again, the answer stays").toBe(before);
        await keep(page, text);
      }
    }
    await expect(page.locator(".answer")).toContainText("Go");
    await expect(page.locator(".answer")).toContainText("Rests on spirit level, not proven: of its step, spread, place where it stands and scale what is usual is taken");
    await page.getByText(/[Tt]he doubt/).click();
    await expect(page.locator(".doubts li").first()).toContainText("%");
    if (unit === "in") expect(await page.locator("main").innerText()).not.toMatch(/\d mm\b/);
  });
}

test("a level that cannot decide says so before anything is read, and the places of the drawing are pressed to go to them", async ({ page, empty }) => {
  await begin(page, empty.url, "mm", "digital level in steps of 0.1°");
  await page.getByText("Limits: the usual ones").click();
  await page.locator("[name='0.low.twist']").fill("±0.05");
  await page.locator("select[name=instrument]").press("Tab"); // any change draws it anew
  await page.locator("[name='0.low.twist']").blur();
  await said(page);
  await expect(page.locator(".answer")).toContainText("cannot decide this: its ± would stay at");
  await expect(page.locator(".answer")).toContainText("would");
  await page.locator("svg.drawing circle.balloon").nth(2).click();
  await expect(page.locator(".points li.current")).toContainText("mid");
  await expect(page.locator("label[for=text]")).toContainText("mid");
});
