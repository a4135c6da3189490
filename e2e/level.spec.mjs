// A phone as a level: its sensor, emulated, from ten placings to a reading.
import { checkOf, expect, test } from "./workshop.mjs";

test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

// lie has the phone's long edge lie at so many degrees.
async function lie(page, degrees) {
  const sensor = (page.sensor ??= await page.context().newCDPSession(page));
  await sensor.send("DeviceOrientation.setDeviceOrientationOverride", { alpha: 0, beta: degrees, gamma: 0 });
}

test("a phone is made a level, proven, and reads a twist with the ± that it deserves", async ({ page, demo }) => {
  await page.goto(demo.url + "/instruments");
  await page.getByRole("link", { name: "This phone as a level" }).tap();
  await expect(page.locator(".level-says")).toContainText("no orientation sensor", { timeout: 8000 });
  await lie(page, 1.23);
  await expect(page.locator(".level-value")).toHaveText("1.2°");
  await page.getByLabel(/What is this phone called/).fill("");
  await page.getByRole("button", { name: "It is an instrument" }).tap();
  await expect(page.locator(".problem").first()).toBeVisible();
  await page.getByLabel(/What is this phone called/).fill("the helper's phone");
  await page.getByRole("button", { name: "It is an instrument" }).tap();
  await expect(page.locator("#spread")).toContainText("the helper's phone");

  // Ten placings, each lifted off before: one that was not is no placing.
  const place = page.locator("[data-place]");
  for (const [i, degrees] of [1.2, 1.3, 1.1, 1.2, 1.3, 1.2, 1.0, 1.2, 1.3, 1.1].entries()) {
    await lie(page, 20); // lifted
    await page.waitForTimeout(200);
    await lie(page, degrees);
    await expect(place).toBeEnabled();
    await place.tap();
    await expect(place, "the same placing is not taken twice").toBeDisabled();
    await expect(page.locator(`[name=spread${i + 1}]`)).toHaveValue(degrees.toFixed(1));
  }
  await page.getByRole("button", { name: "Find the spread" }).tap();
  await expect(page.locator("main")).toContainText("Its spread is 0.1");
  const end = page.locator("[data-end]");
  for (const degrees of [0.9, -0.5]) {
    await lie(page, 20);
    await page.waitForTimeout(200);
    await lie(page, degrees);
    await expect(end).toBeEnabled();
    await end.tap();
  }
  await page.getByRole("button", { name: "Prove the zero" }).tap();
  await expect(page.locator("main")).toContainText("Turned today");

  // And a reading with it.
  await page.goto(demo.setup);
  await page.locator("#moved-what").selectOption("knocked");
  await page.locator("#moved").tap();
  await expect(page.locator(".answer")).toContainText("Not yet");
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 1));
  await page.locator("select[name=instrument]").selectOption({ label: "the helper's phone" });
  await lie(page, 20);
  await lie(page, 0.31);
  await expect(page.locator("#gauge")).toContainText("steady");
  await expect(page.locator("#gauge")).toContainText("top edge");
  await page.locator("#gauge [data-take]").first().tap();
  await expect(page.locator(".points li").first()).toContainText("0.30°");
  await page.goto(demo.url + "/log");
  await expect(page.locator("main")).toContainText("the helper's phone");
});
