// Takes the pictures of this folder from the demo workshop: make shots.
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import config from "../../playwright.config.mjs";
import { checkOf, holdOf, id, network, start } from "../../e2e/workshop.mjs";

const demo = await start("demo");
const browser = await chromium.launch(config.use.launchOptions);
const page = await browser.newPage({ viewport: config.use.viewport, colorScheme: "light" });
const take = async (name) => {
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
};

// The drawing as the form: a first evening, nothing proven, the fourth of five places in the field, drawn in usual proportions.
const evening = await start("serve", "--data", mkdtempSync(join(tmpdir(), "orpine-evening-")));
const said = () => page.waitForFunction(() => !document.querySelector(".htmx-request, .htmx-settling, .htmx-swapping"));
await page.goto(evening.url + "/measure/twist");
await page.locator("select[name=instrument]").selectOption({ label: "spirit level" });
await said();
await page.locator("[name='0.lies']").first().check();
await said();
for (const text of ["0.02", "0.03", "0.07"]) {
  await page.locator("#text").fill(text);
  const before = await page.locator("form.reading input[name=id]").inputValue();
  await page.keyboard.press("Enter");
  await page.locator(`form.reading input[name=id][value="${before}"]`).waitFor({ state: "detached" });
}
await page.locator("#text").fill("0.05");
await page.locator("#below.unkept").waitFor();
await take("measure");
await evening.stop();

const setup = demo.url + "/setups/" + id("tailplane on rails");
await page.goto(demo.url);
await take("airframe");
await page.goto(setup);
await take("setup-go");
await page.goto(setup);
await page.getByRole("button", { name: "not fastened: takes the jig's shape" }).click();
await page.locator(".verdict.stop").waitFor();
await take("setup-stop");
await page.getByRole("button", { name: "flexible, or held down" }).click();
await page.locator(".verdict.go").waitFor();
await page.emulateMedia({ colorScheme: "dark" });
await page.goto(setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=7");
await take("setup-dark");
await page.emulateMedia({ colorScheme: "light" });
await page.goto(demo.url + "/instruments");
await take("instruments");
await page.goto(demo.url + "/setups/" + id("tailplane join"));
await take("join-suspect");
await page.goto(demo.url + "/rows/" + id("row 3") + "?hole=43");
await take("rows");
await page.goto(demo.url + "/order");
await take("work");
await page.goto(demo.url + "/money?parcel=" + id("order aileron rib 3"));
await take("money");
await page.goto(demo.url + "/stores");
await take("stores");
await page.goto(demo.url + "/holds/" + holdOf("tailplane on rails"));
await take("hold");
await page.getByLabel("Released by").fill("builder");
await page.getByRole("button", { name: "Release and sign" }).click();
await page.getByRole("button", { name: /record it/ }).click();
await page.goto(demo.url + "/assemblies/" + id("tail boom") + "/record");
await take("record");
// an instrument live, a bench card, the board, an exercise and its truth
await page.goto(demo.url + "/instruments");
const level = page.locator("section.instrument", { has: page.getByRole("heading", { name: /^level 2/ }) });
await level.getByText("It speaks: connect it").click();
await level.getByRole("button", { name: /simulated level/ }).click();
await page.goto(setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=4");
await page.locator("#gauge.ready").waitFor();
await take("live");
const card = await (await fetch(setup + "/card.pdf")).arrayBuffer();
const print = join(tmpdir(), "orpine-card.pdf");
writeFileSync(print, Buffer.from(card));
execFileSync("pdftoppm", ["-r", "90", "-f", "2", "-l", "2", "-png", "-singlefile", print, "docs/screenshots/card"]);
await page.goto(demo.url + "/paper");
for (const [name, value] of Object.entries({ section: "4415", chord: "1180", angle: "2.5", spar_at: "330", spar_width: "60", spar_depth: "8" })) await page.locator(`[name="${name}"]`).fill(value);
await page.getByRole("button", { name: "Draw it" }).click();
await page.goto(demo.url + "/practice/exercises");
await page.getByRole("button", { name: "Play: Rails or part" }).evaluate((button) => button.form.insertAdjacentHTML("beforeend", '<input type="hidden" name="seed" value="0">'));
await page.getByRole("button", { name: "Play: Rails or part" }).click();
for (let i = 0; i < 10; i++) {
  await page.getByRole("link", { name: new RegExp(`^Twist ${i} of 10`) }).waitFor();
  await page.locator("#gauge.ready").waitFor();
  await page.keyboard.press("Escape");
  await page.keyboard.press("g");
}
await page.getByRole("link", { name: /^Twist 10 of 10/ }).waitFor();
await page.getByRole("button", { name: /^Drill/ }).click();
await page.locator(".truth-drawing").waitFor();
await take("practice-truth");
const shop = mkdtempSync(join(tmpdir(), "orpine-shots-"));
const empty = await start("serve", "--data", shop);
await page.goto(empty.url);
await take("empty-shop");
await empty.stop();
rmSync(shop, { recursive: true });

await page.goto(setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=4");

// People come in: a shop of its own, over TLS; then its phones, three in one picture.
const loft = mkdtempSync(join(tmpdir(), "orpine-shots-"));
await (await start("demo", "--data", loft)).stop();
const net = await network(loft);
const trusting = await chromium.launch({ ...config.use.launchOptions, env: { ...process.env, HOME: net.home } });
const laptop = await trusting.newPage({ viewport: config.use.viewport, colorScheme: "light" });
await laptop.goto(net.url);
await laptop.getByLabel(/Eight digits/).fill(net.code);
await laptop.getByLabel(/Your name/).fill("builder");
await laptop.getByLabel(/A password/).fill("three plain words");
await laptop.keyboard.press("Enter");
for (const [name, role] of [["helper", "helper"], ["visiting inspector", "inspector"]]) {
  await laptop.getByLabel("Name").fill(name);
  await laptop.locator(`input[value=${role}]`).check();
  await laptop.getByRole("button", { name: "Take them in" }).click();
}
await laptop.getByRole("button", { name: "Sign-in code for helper" }).click();
const code = await laptop.locator(".code-figures").textContent();
await laptop.evaluate(() => document.fonts.ready);
await laptop.screenshot({ path: "docs/screenshots/people.png" });
const phones = [];
const phoneContext = await trusting.newContext({ viewport: { width: 390, height: 800 }, colorScheme: "light" });
const phone = await phoneContext.newPage();
const shoot = async () => (await phone.evaluate(() => document.fonts.ready), phones.push((await phone.screenshot()).toString("base64")));
await phone.goto(net.url + "/rows/" + id("row 3") + "?hole=43");
await phone.getByLabel("Eight digits").fill(code);
await shoot();
await phone.keyboard.press("Enter");
await phone.locator("#in-hand").waitFor();
await phoneContext.setOffline(true);
for (let i = 0; i < 3; i++) await phone.keyboard.press("Space");
await phone.locator("#waiting:not([hidden])").waitFor();
await phone.locator("#in-hand").evaluate((heading) => heading.scrollIntoView());
await shoot();
await phoneContext.setOffline(false);
await phone.locator("#waiting").waitFor({ state: "hidden" });
const sensor = await phoneContext.newCDPSession(phone);
const lie = (beta) => sensor.send("DeviceOrientation.setDeviceOrientationOverride", { alpha: 0, beta, gamma: 0 });
await lie(1.2);
await phone.goto(net.url + "/level");
await phone.getByLabel(/What is this phone called/).fill("helper's phone");
await phone.getByRole("button", { name: "It is an instrument" }).click();
for (const beta of [1.2, 1.3, 1.1, 1.2]) {
  await lie(20);
  await phone.waitForTimeout(300);
  await lie(beta);
  await phone.locator("[data-place]:enabled").click();
}
await shoot();
await laptop.setViewportSize({ width: 1218, height: 800 });
await laptop.goto("about:blank");
await laptop.setContent(`<body style="margin:0;display:flex;gap:24px;background:#888">${phones.map((data) => `<img src="data:image/png;base64,${data}">`).join("")}</body>`);
await laptop.screenshot({ path: "docs/screenshots/phones.png" });
await trusting.close();
await net.stop();
rmSync(loft, { recursive: true });
rmSync(net.home, { recursive: true });
await browser.close();
await demo.stop();
