// A surface joined to its airframe: reading by reading, a misread inch found and
// taken again, and what nothing shows named with the reading that would.
import { expect, id, instead, settled, test } from "./workshop.mjs";

const keep = async (page, text) => {
  const id = await page.locator("form.reading input[name=id]").inputValue();
  await page.locator("#text").fill(text);
  await page.locator("#text").press("Enter");
  await expect(page.locator(`form.reading input[name=id][value="${id}"]`)).toHaveCount(0);
  await settled(page);
};

const says = (page, ...texts) => Promise.all(texts.map((text) => expect(page.locator(".answer")).toContainText(text)));

test("the tailplane reading by reading: a misread inch is found and taken again", async ({ page, demo }) => {
  await page.goto(demo.url);
  await page.keyboard.press("m");
  await page.getByRole("link", { name: "Joins" }).click();
  await page.getByRole("link", { name: /Tailplane joined to the boom/ }).click();
  await says(page, "Unsure", "Take firewall to tip R again");
  await expect(page.locator(".board .suspect")).toHaveCount(1);
  await page.getByRole("button", { name: "Something moved" }).click();
  await says(page, "Not yet", "15 readings to go");
  for (const text of ["0.16 R", "0.21 up", "3686", "3687", "5921"]) await keep(page, text);
  await keep(page, "5897");
  await expect(page.locator("#text-problem")).toContainText("one whole inch");
  await page.getByText("it is as measured", { exact: true }).click();
  await keep(page, "5897");
  for (const text of ["4442", "4441", "1308.5", "1297", "1287.5", "1283.5", "0.19 R", "0.57 up", "-105"]) await keep(page, text);
  await says(page, "Unsure", "Take firewall to tip R again", "it does not fit the others by");
  await page.locator(".next .do a").click();
  await instead(page, "misread");
  await keep(page, "5922");
  await says(page, "Go", "roll, right side low");
  await expect(page.locator(".board .suspect")).toHaveCount(0);
  await expect(page.locator(".points")).toContainText("fits to");
  await page.locator("#working summary").click();
  await expect(page.locator(".working")).toContainText("yaw");
});

test("the foreplane: nothing shows the skew, and the reading that would is one tap away", async ({ page, demo }) => {
  await page.goto(demo.url + "/setups/" + id("foreplane join"));
  await says(page, "Unsure", "not seen", "Nothing that was read shows yaw", "Read the distance tail hook to tip R too");
  await expect(page.locator(".board .next")).toHaveCount(1);
  await page.locator(".next .do a").click();
  await expect(page.locator("[name='point.type']")).toHaveValue("distance");
  await page.getByRole("button", { name: "Add the reading" }).click();
  await says(page, "Not yet", "Read tail hook to tip R");
  await page.locator("select[name=instrument]").selectOption({ label: "5 m steel tape" });
  await keep(page, "3886");
  await expect(page.locator(".answer")).not.toContainText("Nothing that was read");
  await page.locator("#working summary").click();
  await expect(page.locator(".working")).toContainText(/yaw [+−]?0\.\d\d° ± 0\.\d\d°/);
});

test("before anything is read, the readings that would decide are planned", async ({ page, demo }) => {
  await page.goto(demo.url + "/assemblies/" + id("tailplane") + "/usual/join");
  const rows = (field) => page.locator(`[name^='0.${field}.'][name$='.0']`).evaluateAll((all) => all.map((e) => e.value).filter(Boolean));
  expect(await rows("points")).toContain("R front");
  await page.getByRole("button", { name: "Plan the readings" }).click();
  await expect(page.getByRole("alert")).toContainText("a plan is made for limits");
  for (const [quantity, limit] of [["roll", "0.1"], ["pitch", "0.15"], ["yaw", "0.1"]]) {
    await page.locator(`[name="0.low.${quantity}"]`).fill("-" + limit);
    await page.locator(`[name="0.high.${quantity}"]`).fill(limit);
  }
  await page.getByRole("button", { name: "Plan the readings" }).click();
  await expect(page.getByRole("status")).toContainText("the fewest readings that would decide it");
  const planned = (await rows("readings")).length;
  expect(planned).toBeGreaterThan(2);
  await page.getByRole("button", { name: "Begin the setup" }).click();
  await says(page, "Not yet", `${planned + 2} readings to go`);
});

test("fin and tailplane at once: a place and a reading are added, and the fin is known better", async ({ page, demo }) => {
  await page.goto(demo.url + "/setups/" + id("fin and tail join"));
  await says(page, "Unsure", "roll, right side low at fin", "± 0.45°");
  await page.locator("#working summary").click();
  await expect(page.locator(".working")).toContainText("height at tips, right over left");
  await page.getByRole("link", { name: "limits and points" }).click();
  await page.locator("[name='place.name']").fill("hangar post");
  await page.locator("[name='place.x']").fill("5400 mm");
  await page.locator("[name='place.y']").fill("high");
  await page.getByRole("button", { name: "Add the place" }).click();
  await expect(page.getByRole("alert")).toContainText("high");
  await expect(page.locator("[name='place.name']")).toHaveValue("hangar post");
  await page.locator("[name='place.y']").fill("2000");
  await page.locator("[name='place.z']").fill("1700");
  await page.getByRole("button", { name: "Add the place" }).click();
  await page.locator("[name='point.type']").selectOption("distance");
  await page.locator("[name='point.from']").selectOption("hangar post");
  await page.locator("[name='point.to']").selectOption("fin top");
  await page.getByRole("button", { name: "Add the reading" }).click();
  await page.locator("select[name=instrument]").selectOption({ label: "5 m steel tape" });
  await keep(page, "2001");
  await expect(page.locator(".answer")).not.toContainText("± 0.45°");
});
