// A shop full of people: phones that trust its certificate, people who sign in, a signal that drops,
// two who work on one sheet.
import AxeBuilder from "@axe-core/playwright";
import { chromium } from "@playwright/test";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { bay, checkOf, checkRecord, expect, id, network, start, test } from "./workshop.mjs";

const words = "three plain words";
const fair = async (page) => {
  const found = (await new AxeBuilder({ page }).setLegacyMode(true).analyze()).violations.filter((v) => v.impact === "serious" || v.impact === "critical");
  expect(found.map((v) => `${v.id} ${v.nodes.map((n) => n.target).join(", ")}`), page.url()).toEqual([]);
  expect(await page.evaluate(() => document.documentElement.scrollWidth), page.url()).toBeLessThanOrEqual(page.viewportSize().width);
};
const flags = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"];
const row = (url) => url + "/rows/" + id("row 3");

// The journal's operations on holes, as "hole: what".
async function operations(page, url) {
  const entries = [];
  for (let after = 0; ; ) {
    const part = (await (await page.request.get(`${url}/api/v1/journal?most=1000&after=${after}`)).json()).entries;
    if (!part.length) break;
    entries.push(...part);
    after = part.at(-1).seq;
  }
  return entries.filter((e) => e.kind === "holes").map((e) => ({ ...e, ...JSON.parse(e.content) })).map((e) => ({ what: `${e.request.numbers.join()}: ${e.request.what}`, taken: e.taken }));
}

test.describe("over TLS", () => {
  let shop;
  let browser;
  let data;
  test.beforeAll(async () => {
    data = mkdtempSync(join(tmpdir(), "orpine-shop-"));
    await (await start("demo", "--data", data)).stop();
    shop = await network(data);
    browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: flags, env: { ...process.env, HOME: shop.home } });
  });
  test.afterAll(async () => {
    await browser?.close();
    await shop?.stop();
    rmSync(data, { recursive: true });
    rmSync(shop.home, { recursive: true });
  });
  const device = async (width = 390) => (await browser.newContext({ viewport: { width, height: 844 }, hasTouch: width < 500 })).newPage();

  test("the first builder comes in by the console's code, lets the others in, and each may do what is theirs", async () => {
    const laptop = await device(1280);
    await laptop.goto(shop.url); // a certificate that is not trusted would end here
    await expect(laptop.locator("h1")).toContainText("The first builder");
    await laptop.getByLabel(/Eight digits/).fill("1111 1111");
    await laptop.getByLabel(/Your name/).fill("the builder");
    await laptop.getByLabel(/A password/).fill(words);
    await laptop.getByRole("button", { name: "Begin as builder" }).click();
    await expect(laptop.locator(".problem")).toContainText("is not the one that the console shows");
    await expect(laptop.getByLabel(/Your name/)).toHaveValue("the builder");
    await laptop.getByLabel(/Eight digits/).fill(shop.code);
    await laptop.getByLabel(/A password/).fill(words);
    await laptop.keyboard.press("Enter");
    await expect(laptop.locator("h1")).toContainText("People");

    const came = {};
    for (const [name, role] of [["the helper", "helper"], ["visiting inspector", "inspector"], ["a neighbour", "viewer"]]) {
      await laptop.getByLabel("Name").fill(name);
      await laptop.locator(`input[value=${role}]`).check();
      await laptop.getByRole("button", { name: "Take them in" }).click();
      await laptop.getByRole("button", { name: "Sign-in code for " + name }).click();
      const code = await laptop.locator(".code-figures").textContent();
      const phone = (came[role] = await device());
      await phone.goto(row(shop.url) + "?hole=43");
      await expect(phone.locator("h1")).toContainText("Sign in");
      if (role === "helper") for (const p of [phone, laptop]) await fair(p);
      await phone.getByLabel("Eight digits").fill(code);
      await phone.keyboard.press("Enter");
      if (role === "inspector") {
        await expect(phone.locator("body")).toContainText("Until you have one you can sign nothing");
        await fair(phone);
        await phone.getByLabel(/The new one/).fill(words);
        await phone.keyboard.press("Enter");
      }
      await expect(phone.locator("#in-hand"), "back where they wanted to go").toContainText("Hole 43");
    }
    await laptop.goto(shop.url + "/trust");
    await fair(laptop);
    const installs = await came.helper.context().newCDPSession(came.helper);
    const hinders = (await installs.send("Page.getInstallabilityErrors")).installabilityErrors.map((e) => e.errorId);
    expect(hinders.filter((e) => e !== "in-incognito"), "a phone installs it").toEqual([]); // where a test runs
    // The helper rivets, under their own name; the neighbour looks on.
    await expect(came.helper.locator("input[name=by]").first()).toHaveValue("the helper");
    await came.helper.locator("button[value=set]").tap();
    await expect(came.helper.locator("#in-hand")).toContainText("Hole 44");
    await expect(came.viewer.locator("#operation")).toBeHidden();
    const send = (phone, path, fields) => phone.evaluate(async ([path, fields]) => (await fetch(path, { method: "POST", body: new URLSearchParams({ id: crypto.randomUUID(), ...fields }) })).status, [path, fields]);
    expect(await send(came.viewer, row("") + "/holes", { number: "44", do: "set" })).toBe(403);
    expect(await send(came.helper, "/people", { name: "x", role: "builder" })).toBe(403);
    await laptop.goto(shop.url + "/log");
    await expect(laptop.locator("main")).toContainText("the helper");
    // A page from elsewhere cannot do it in the builder's name.
    const elsewhere = await laptop.context().newPage();
    await elsewhere.goto(shop.plain + "/sign-in");
    await elsewhere.evaluate((url) => fetch(url, { method: "POST", mode: "no-cors", credentials: "include", body: new URLSearchParams({ id: crypto.randomUUID(), name: "an intruder", role: "builder" }) }), shop.url + "/people").catch(() => {});
    await laptop.goto(shop.url + "/people");
    await expect(laptop.locator("main")).not.toContainText("an intruder");
    // Signed out with an entry in the phone: it waits until they are in again.
    await came.helper.goto(row(shop.url) + "?hole=44");
    await expect(came.helper.locator("#in-hand")).toContainText("Hole 44");
    await came.helper.context().setOffline(true);
    await came.helper.locator("button[value=set]").tap();
    await expect(came.helper.locator("#waiting")).toContainText("hole 44: set");
    await laptop.goto(shop.url + "/people");
    await laptop.locator("li", { hasText: "the helper" }).locator("summary").click();
    await laptop.getByRole("button", { name: "Sign out everywhere: a phone is lost, of the helper" }).click();
    await came.helper.context().setOffline(false);
    await expect(came.helper.locator("#waiting")).toContainText("You are signed out", { timeout: 20_000 });
    await laptop.getByRole("button", { name: "Sign-in code for the helper" }).click();
    await came.helper.goto(row(shop.url) + "?hole=44");
    await expect(came.helper.locator("#waiting")).toContainText("Sign in as the helper");
    await came.helper.getByLabel("Eight digits").fill(await laptop.locator(".code-figures").textContent());
    await came.helper.keyboard.press("Enter");
    await expect(came.helper.locator("#waiting")).toBeHidden({ timeout: 20_000 });
    await laptop.goto(row(shop.url) + "?hole=44");
    await expect(laptop.locator("#in-hand")).toContainText("set");
    // Gone with the phone.
    await laptop.goto(shop.url + "/people");
    await laptop.locator("li", { hasText: "the helper" }).locator("summary").click();
    await laptop.getByRole("button", { name: "Sign out everywhere: a phone is lost, of the helper" }).click();
    await came.helper.goto(shop.url);
    await expect(came.helper.locator("h1")).toContainText("Sign in");
    await came.helper.getByLabel("Name").fill("the helper");
    await came.helper.getByRole("textbox", { name: "Password" }).fill("no such words");
    await came.helper.keyboard.press("Enter");
    await expect(came.helper.locator(".problem")).toContainText("do not belong together");
    await checkRecord(laptop, shop.url);
  });
});

test("a phone that loses the signal in a row of forty sets forty rivets, once each, in order", async ({ page, demo, context }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(row(demo.url) + "?hole=43");
  const hole = (n) => expect(page.locator("#in-hand")).toContainText(`Hole ${n}`);
  for (let n = 43; n <= 52; n++) {
    await page.keyboard.press("Space");
    await hole(n + 1);
  }
  // The answer of one is lost, and then the line.
  await page.route("**/holes", async (route) => {
    await route.fetch();
    await context.setOffline(true); // before it is sent again
    await route.abort("connectionreset");
  }, { times: 1 });
  await page.keyboard.press("Space");
  await expect(page.locator("#waiting")).toContainText("hole 53: set");
  for (let n = 54; n <= 76; n++) await page.keyboard.press("Space");
  await hole(77);
  await expect(page.locator("#in-hand")).toContainText("when the line was cut");
  await page.keyboard.press("ArrowRight"); // 77 stays open
  for (let n = 78; n <= 83; n++) await page.keyboard.press("Space");
  await expect(page.locator("#waiting")).toContainText("entries wait in this phone");
  await expect(page.locator(".near-strip")).toContainText("83");
  await page.waitForTimeout(1500);
  await context.setOffline(false);
  await expect(page.locator("#waiting")).toBeHidden({ timeout: 30_000 });
  await hole(84);
  const done = (await operations(page, demo.url)).slice(-40);
  const wanted = [...Array(34).keys()].map((i) => 43 + i).concat([78, 79, 80, 81, 82, 83]);
  expect(done.map((e) => e.what)).toEqual(wanted.map((n) => `${n}: set`));
  expect(done.at(-1).taken, "when it was entered is kept").toBeTruthy();
  await checkRecord(page, demo.url);
});

test("what no longer fits when the line is back is shown, and never merged", async ({ page, demo, context }) => {
  const laptop = await (await context.browser().newContext()).newPage();
  await page.goto(row(demo.url) + "?hole=43");
  await expect(page.locator("#in-hand")).toContainText("Hole 43");
  await context.setOffline(true);
  await page.keyboard.press("Space");
  await page.keyboard.press("Space");
  await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("b"); // 44, keyed before, is bad
  await page.keyboard.press("2");
  await expect(page.locator("#waiting")).toContainText("3 entries wait");
  await laptop.goto(row(demo.url) + "?hole=43");
  await laptop.keyboard.press("b");
  await laptop.keyboard.press("1");
  await expect(laptop.locator(".head")).toContainText("bad");
  await context.setOffline(false);
  await expect(page.locator(".waiting-refused")).toContainText("Not taken: hole 43: set", { timeout: 30_000 });
  await expect(page.locator(".waiting-refused")).toHaveCount(1);
  await expect(page.locator(".waiting-refused")).toContainText("made before something changed");
  await expect(async () => expect((await operations(page, demo.url)).map((e) => e.what).slice(-3)).toEqual(["43: bad", "44: set", "44: bad"])).toPass({ timeout: 15_000 });
  await page.getByRole("button", { name: "Let it go" }).click();
  await expect(page.locator("#waiting")).toBeHidden();
});

test("what was refused and is in the metal is written down as a fact, for the whole evening at once", async ({ page, demo, context }) => {
  const laptop = await (await context.browser().newContext()).newPage();
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(row(demo.url) + "?hole=43");
  await expect(page.locator("#in-hand")).toContainText("Hole 43");
  await context.setOffline(true);
  await page.keyboard.press("Space");
  await page.keyboard.press("Space");
  for (const n of [43, 44]) {
    await laptop.goto(row(demo.url) + "?hole=" + n);
    await expect(laptop.locator("#in-hand")).toContainText(`Hole ${n}`);
    await laptop.keyboard.press("l");
    await expect(laptop.locator("#in-hand")).toContainText("pinned");
  }
  await context.setOffline(false);
  await expect(page.locator(".waiting-refused")).toHaveCount(2, { timeout: 30_000 });
  const facts = page.locator(".waiting-facts");
  await facts.getByRole("button", { name: "It is done: write it down" }).click();
  await expect(facts.getByRole("alert")).toContainText("who did it");
  await facts.getByLabel("Who did it?").fill("the helper");
  await facts.getByLabel("How did it come to that?").fill("the signal was gone, and the holes were dry");
  await fair(page);
  if (process.env.SHOTS_DIR) await page.screenshot({ path: process.env.SHOTS_DIR + "/facts.png" });
  await facts.getByRole("button", { name: "It is done: write it down" }).click();
  await expect(page.locator("#waiting")).toBeHidden();
  await laptop.goto(row(demo.url) + "?hole=44");
  await expect(laptop.locator("#in-hand")).toContainText("set");
  await laptop.goto(demo.url + "/log");
  await expect(laptop.locator("main")).toContainText("hole 43, 44: set, done without release");
  await checkRecord(laptop, demo.url);
});

test("readings go on from point to point without the line", async ({ page, demo, context }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(demo.setup);
  await page.locator("#moved-what").selectOption("knocked");
  await page.locator("#moved").click();
  await expect(page.locator(".answer")).toContainText("Not yet");
  await context.setOffline(true);
  for (const text of ["50.5", "50", "52.5"]) {
    await page.locator("#text").fill(text);
    await page.locator("#text").press("Enter");
    await expect(page.locator("#text")).toHaveValue("");
  }
  await expect(page.locator("#waiting")).toContainText("3 entries wait");
  await context.setOffline(false);
  await expect(page.locator("#waiting")).toBeHidden({ timeout: 30_000 });
  await expect(page.locator(".points li .value b").nth(0)).toContainText("50.5");
  await expect(page.locator(".points li .value b").nth(2)).toContainText("52.5");
  await checkRecord(page, demo.url);
});

test("two phones and a laptop on one setup see each other within a second, and overwrite nothing", async ({ page, demo, context }) => {
  const spot = (n) => demo.setup + "?check=" + checkOf("tailplane on rails", 0) + "&spot=" + n;
  const other = async () => (await context.browser().newContext({ viewport: { width: 390, height: 844 } })).newPage();
  const [one, two] = [await other(), await other()];
  await page.goto(spot(2));
  await page.locator("#moved-what").selectOption("knocked");
  await page.locator("#moved").click();
  await expect(page.locator(".answer")).toContainText("Not yet");
  await page.goto(spot(2));
  await one.goto(spot(3));
  await two.goto(spot(4));
  await expect(page.locator(".others")).toContainText("another screen is at");
  await expect(page.locator(".other-here")).toHaveCount(2);
  await page.locator("#text").fill("half typed");
  const shown = (p, n) => p.locator(".points a.value").nth(n - 1).locator("b");
  await one.locator("#text").fill("52.5");
  await one.locator("#text").press("Enter");
  await expect(shown(page, 3)).toContainText("52.5");
  await expect(shown(two, 3)).toContainText("52.5");
  await expect(page.locator("#text"), "what is typed stays").toHaveValue("half typed");
  // The laptop reads where the second phone stands.
  await page.goto(spot(4));
  await page.locator("#text").fill("50");
  await page.locator("#text").press("Enter");
  await expect(two.locator(".others")).toContainText("Someone read this point just now: 50");
  await two.locator("#text").fill("51");
  await two.locator("#text").press("Enter");
  await expect(two.locator(".problem").first()).toContainText("50, read at");
  await expect(two.locator("#text")).toHaveValue("51");
  await checkRecord(page, demo.url);
});

test("a phone's large photo is shrunk before it is sent, and one that cannot be read is named", async ({ page, demo }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(demo.url + "/bays/" + bay);
  const large = await page.evaluate(async () => {
    const canvas = new OffscreenCanvas(4600, 3400);
    const pen = canvas.getContext("2d");
    for (let i = 0; i < 25_000; i++) {
      pen.fillStyle = `hsl(${i % 360} 60% ${20 + (i % 60)}%)`;
      pen.fillRect((i * 7919) % 4600, (i * 104_729) % 3400, 40, 24);
    }
    const data = new Uint8Array(await (await canvas.convertToBlob({ type: "image/jpeg", quality: 1 })).arrayBuffer());
    return data.reduce((all, byte) => all + String.fromCharCode(byte), "");
  });
  const file = (name, mimeType, text) => ({ name, mimeType, buffer: Buffer.from(text, "latin1") });
  expect(large.length).toBeGreaterThan(3_000_000);
  const form = page.locator("form[action$='/photos']");
  await form.locator("[name=photo]").setInputFiles(file("IMG_1.jpg", "image/jpeg", large));
  await expect(async () => expect(await form.locator("[name=photo]").evaluate((f) => f.files[0].size)).toBeLessThan(large.length)).toPass();
  await form.getByLabel("What it shows").fill("looking aft");
  await form.getByRole("button", { name: "Keep the photo" }).click();
  const kept = page.locator(".photos li", { hasText: "looking aft" }).last();
  const size = await page.evaluate(async (href) => {
    const picture = await createImageBitmap(await (await fetch(href)).blob());
    return picture.width * picture.height;
  }, await kept.locator("a").first().getAttribute("href"));
  expect(size).toBeLessThanOrEqual(12_500_000);
  expect(size).toBeGreaterThan(8_000_000);
  await form.locator("[name=photo]").setInputFiles(file("IMG_2.heic", "image/heic", "\0\0\0\x18ftypheic" + "\0".repeat(60)));
  await form.getByLabel("What it shows").fill("the floor");
  await form.getByRole("button", { name: "Keep the photo" }).click();
  await expect(page.locator(".problem").first()).toContainText("is a HEIC picture");
  await expect(form.getByLabel("What it shows")).toHaveValue("the floor");
});
