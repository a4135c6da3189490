// Paper: a bench card printed and typed in, the printer's scale, a board, from an empty shop too.
import { expect, test } from "./workshop.mjs";

const pdf = async (url) => {
  const r = await fetch(url);
  expect(r.status, url).toBe(200);
  expect(r.headers.get("content-type")).toBe("application/pdf");
  const data = Buffer.from(await r.arrayBuffer());
  expect(data.subarray(0, 5).toString()).toBe("%PDF-");
  return data;
};

test("a bench card is printed, and what was written on it typed in", async ({ page, demo }) => {
  await page.goto(demo.setup);
  await page.getByRole("link", { name: /^Twist/ }).click();
  await page.locator("#moved-what").selectOption("re-clamped");
  await page.getByRole("button", { name: "Something moved" }).click();
  await page.getByRole("link", { name: "bench card" }).click();
  const print = await page.getByRole("link", { name: "Letter", exact: true }).getAttribute("href");
  await pdf(demo.url + print);
  // in card order, by the keyboard alone; one figure that nobody can read, one box left empty
  const texts = ["0.05 up", "0.06 up", "0.14 up", "0.14 up", "0.23 up", "0.21 up", "0.31 upp", "0.30 up", "0.39 up", ""];
  await page.locator('[name="spot.101"]').focus();
  for (const text of texts) {
    await page.keyboard.type(text);
    await page.keyboard.press("Tab");
  }
  await page.getByRole("button", { name: "Keep what is filled in" }).click();
  await expect(page.getByRole("status")).toContainText("8 of the card are kept");
  await expect(page.locator('[name="spot.107"]')).toHaveValue("0.31 upp");
  await expect(page.locator(".problem")).toHaveCount(1);
  // out of order, by the numbers
  await page.getByLabel(/^110/).fill("0.37 up");
  await page.getByLabel(/^107/).fill("0.31 up");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: /^Twist 10 of 10/ }).click();
  await expect(page.locator(".below")).toContainText("+0.03°");
});

test("Letter prints Letter, by the links that are pressed", async ({ page, demo }) => {
  const sheet = async (link) => (await pdf(new URL(await link.getAttribute("href"), page.url()).href)).toString("latin1").match(/\/MediaBox *\[([^\]]*)\]/)[1].trim().split(/\s+/).map(Number);
  await page.goto(demo.url + "/paper");
  const card = page.getByRole("link", { name: "A blank bench card" });
  expect(await sheet(card)).toEqual([0, 0, expect.closeTo(595.28, 1), expect.closeTo(841.89, 1)]);
  await page.getByRole("link", { name: "Letter", exact: true }).click();
  expect(await sheet(card)).toEqual([0, 0, 612, 792]);
  expect(await sheet(page.getByRole("link", { name: /: bench card/ }).first())).toEqual([0, 0, 612, 792]);
});

test("everything that can be printed is a PDF, in either size", async ({ page, shown }) => {
  await page.goto(shown.url + "/paper?paper=letter");
  const links = await page.locator('a[href*=".pdf"]').evaluateAll((all) => all.map((a) => a.href));
  expect(links.length).toBeGreaterThan(15);
  for (const link of links) await pdf(link);
});

test("paper from an empty shop: a blank card, a board in inches, and what the printer did", async ({ page, empty }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(empty.url + "/paper");
  await pdf(empty.url + "/paper/blank.pdf?paper=letter");
  await page.getByLabel("Section of four digits").fill("44");
  await page.getByLabel("Chord where the board lies").fill("46 1/2 in");
  await page.getByLabel("Incidence there").fill("-1°30'");
  await page.keyboard.press("Enter");
  await expect(page.locator(".problem")).toContainText("section of four digits");
  await expect(page.getByLabel("Chord where the board lies")).toHaveValue("46 1/2 in");
  await page.getByLabel("Section of four digits").fill("4415");
  await page.keyboard.press("Enter");
  await expect(page.locator(".board-drawing")).toBeVisible();
  const down = page.waitForEvent("download");
  await page.getByRole("button", { name: "DXF" }).click();
  expect((await down).suggestedFilename()).toBe("board-4415.dxf");
  await page.getByLabel("or its coordinates").setInputFiles({ name: "crossed.txt", mimeType: "text/plain", buffer: Buffer.from("1 0\n0.5 0.1\n0 0\n0.5 0.2\n0.7 -0.1\n0.8 -0.02\n1 0\n") });
  await page.getByRole("button", { name: "Draw it" }).click();
  await expect(page.locator(".problem")).toContainText("crosses or touches itself");
  await page.getByLabel("The square of 100 mm is, across").fill("97");
  await page.getByLabel("and along").fill("97");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("status")).toContainText("Do not cut. The printer scaled to 97.0 %");
});
