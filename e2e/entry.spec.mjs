import { again, angles, checkOf, expect, id, instead, settled, solve, start, takeAll, test } from "./workshop.mjs";
import { spawnSync } from "node:child_process";

const bad = ["0.08 R", "-0.1 up", "1/2", "1,234", "1.234,5", "2.9e3", "NaN", "Inf", "361", "0.1 0.2", "1:0", "3 mm", "0.1 mil", "1/2/3", "x".repeat(70)];
const badLengths = ["2899 1/2 mm", "2,899 mm", "40 mil", "3 mm 1/4\"", "1/0 in", "64.5 1/2 in", "7 1/2 ft 3", "1001 m"];

test("bad entries keep what was typed, say why at the field, and store nothing", async ({ page, demo }) => {
  const last = async () => (await page.request.get(demo.url + "/log")).text().then((html) => html.match(/last entry<\/span><b>(\d+)/)[1]);
  const before = await last();
  const refuse = async (texts) => {
    for (const text of texts) {
      await page.locator("#text").fill(text); await again(page);
      await page.locator("#text").press("Enter");
      await expect(page.locator("#text-problem .problem")).toContainText(text.slice(0, 20));
      await expect(page.locator("#text")).toHaveValue(text);
      await expect(page.locator("#text")).toHaveAttribute("aria-invalid", "true");
    }
  };
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=1");
  await refuse(bad);
  await page.locator("#text").fill("");
  await again(page);
  await page.locator("#text").press("Enter");
  await expect(page.locator("#text-problem")).toContainText("nothing is typed");
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 0) + "&spot=1");
  await refuse(badLengths);
  expect(await last()).toBe(before);
});

test("what is typed is echoed as understood", async ({ page, demo }) => {
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 0) + "&spot=1");
  await page.locator("#text").pressSequentially("1 31/32 in");
  await expect(page.locator("#echo")).toHaveText("read as 1 31/32 in = 50.0 mm");
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=1");
  await page.locator("#text").pressSequentially("0.36 up");
  await expect(page.locator("#echo")).toHaveText("read as +0.36°, leading edge up");
  await page.locator("#text").fill("0.36 R");
  await expect(page.locator("#echo")).toContainText("not yet readable");
});

test("a further placing, a mistype put right and a reading taken back stay on the record", async ({ page, demo }) => {
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=1");
  await expect(page.locator(".points li").first()).toContainText("covered");
  await page.locator("#text").fill("0.07 up");
  await page.locator("#text").press("Enter"); // how it was placed is asked, and nothing is preset
  await expect(page.locator("[name=in_place]:invalid")).not.toHaveCount(0);
  await again(page, "moved");
  await page.getByRole("button", { name: "Keep it, stay here" }).click();
  await expect(page.locator(".points li").first()).toContainText("2 placings");
  await settled(page); // the field has the focus again, and Escape leaves it
  await page.keyboard.press("Escape");
  await page.keyboard.press("v");
  await expect(page.locator(".points li").first()).toContainText("+0.060°");
  await page.locator("#text").fill("0.5 up");
  await instead(page, "mistyped");
  await page.getByRole("button", { name: "Keep it, stay here" }).click();
  await page.getByRole("link", { name: "show the first" }).click();
  await expect(page.locator(".points li").first()).toContainText("+0.50°");
  await page.getByText(/All readings of/).click();
  await expect(page.locator(".record s")).toHaveCount(2);
  await page.getByRole("button", { name: "Take it back" }).click();
  await expect(page.locator(".answer")).toContainText("one reading to go");
  await expect(page.locator(".answer")).toContainText("Read left tip, angle");
});

test("the same submission twice is one reading", async ({ page, demo }) => {
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=1");
  const form = { ...(await page.locator("form.reading").evaluate((form) => Object.fromEntries(new FormData(form)))), text: "0.05 up" };
  for (let i = 0; i < 3; i++) expect((await page.request.post(demo.setup + "/readings", { form })).status()).toBe(200);
  const changed = await page.request.post(demo.setup + "/readings", { form: { ...form, text: "0.50 up" } });
  expect(changed.status()).toBe(422);
  expect(await changed.text()).toContain("sent before with something else");
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=1");
  await expect(page.locator(".points li").first()).toContainText("2 placings");
});

test("nothing is lost when the connection drops in the middle of an entry", async ({ page, demo, context }) => {
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=1");
  await page.locator("#text").fill("0.07 up");
  await again(page);
  await context.setOffline(true);
  await page.locator("#text").press("Enter");
  await expect(page.locator("#waiting")).toContainText("0.07 up");
  await page.goto(demo.url).catch(() => {}); // even where the page is left
  await context.setOffline(false);
  await page.goto(demo.setup + "?check=" + checkOf("tailplane on rails", 1) + "&spot=1");
  await expect(page.locator("#waiting")).toBeHidden();
  await expect(page.locator(".points li").first()).toContainText("2 placings");
});

test.describe("without JavaScript", () => {
  test.use({ javaScriptEnabled: false });
  test("entry and release work", async ({ page, demo }) => {
    await page.goto(demo.setup);
    await page.getByRole("button", { name: "Something moved" }).click();
    await expect(page.locator(".answer")).toContainText("Not yet");
    await page.locator("#text").fill("fifty");
    await again(page);
    await page.getByRole("button", { name: "Keep it", exact: true }).click();
    await expect(page.locator("#text-problem")).toContainText("fifty");
    await expect(page.locator("#text")).toHaveValue("fifty");
    for (const text of ["50.5", "50", "52.5", "50", "52", "47.5"]) {
      await page.locator("#text").fill(text);
      await page.getByRole("button", { name: "Keep it", exact: true }).click();
    }
    await page.locator(".next .do a").click();
    for (const text of angles) {
      await page.locator("#text").fill(text);
      await page.getByRole("button", { name: "Keep it", exact: true }).click();
    }
    await expect(page.locator(".answer")).toContainText("+0.03°");
    await page.getByRole("link", { name: "Go to the hold" }).click();
    await page.getByLabel("Released by").fill("builder");
    await page.getByRole("button", { name: "Release and sign" }).click();
    await expect(page.locator(".decide")).toContainText("Released");
  });
});

test("an empty workshop is filled by hand, keeps its data and verifies", async ({ page, empty }) => {
  await page.goto(empty.url);
  await page.getByText("a name is enough").click();
  await page.getByLabel("Name").fill("Samphire S2");
  await page.getByRole("button", { name: "Add the aircraft" }).click();
  await expect(page.getByRole("heading", { name: "Samphire S2" })).toBeVisible();
  await page.getByText("Add an assembly").click();
  const form = page.locator("form", { hasText: "Add the assembly" });
  await form.getByLabel("Name").fill("Tailplane");
  await form.getByRole("radio", { name: /surface/ }).check();
  await form.locator("[name='surface.inner']").fill("-1440");
  await form.locator("[name='surface.outer']").fill("wide");
  await form.locator("[name='surface.chord']").fill("620");
  await form.getByRole("button").click();
  await expect(page.getByRole("alert").filter({ hasText: "wide" })).toBeVisible();
  await page.locator("[name='surface.outer']").fill("4' 8 11/16\"");
  await page.getByRole("button", { name: "Add the assembly" }).click();
  await expect(page.getByRole("heading", { name: "Tailplane" })).toBeVisible();

  await page.keyboard.press("m");
  await page.getByRole("navigation", { name: "Sheets of Measure" }).getByRole("link", { name: "Instruments" }).click();
  const add = async (name, sort, step, offset, spread) => {
    if (!(await page.locator("details.add").getAttribute("open").then((open) => open !== null))) await page.getByText("Add an instrument").click();
    await page.getByLabel("Name").fill(name);
    await page.getByLabel("What it is").selectOption(sort);
    await page.getByLabel("Smallest step").fill(step);
    await page.getByLabel("Constant error").fill(offset);
    await page.getByLabel("Spread of one placing").fill(spread);
    await page.getByRole("button", { name: "Add the instrument" }).click();
    await expect(page.getByRole("heading", { name })).toBeVisible();
  };
  await add("level", "digital level", "0.01", "0.05", "0.015");
  await add("rule", "rule", "0.5 mm", "", "0.15 mm");

  await page.goto(empty.url);
  await page.locator("svg a.part .region").first().click();
  await page.getByText("Measure it on a pair of rails").click();
  await page.getByLabel("The rails are apart").fill("700");
  await page.getByLabel("station 3, place").fill("-3");
  await page.getByLabel("flexible, or held down").check();
  await page.getByLabel("Twist, from").fill("0.1");
  await page.getByLabel("to", { exact: true }).fill("-0.1");
  await page.getByRole("button", { name: "Begin the setup" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "below the lower limit" })).toBeVisible();
  await page.getByLabel("Twist, from").fill("±0.1");
  await page.getByLabel(/^to\b/).fill("");
  await page.getByRole("button", { name: "Begin the setup" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "outboard of the root" })).toBeVisible();
  await expect(page.getByLabel("station 3, place")).toHaveValue("-3");
  await page.getByLabel("station 3, place").fill("2880");
  await page.getByRole("button", { name: "Begin the setup" }).click();
  await takeAll(page, ["10", "10", "10", "10"]);
  await expect(page.locator(".next")).toContainText(/read left end, angle/i); // one stream, on one page

  await empty.stop();
  const verify = spawnSync("bin/orpine", ["verify", "--data", empty.data], { encoding: "utf8" });
  expect(verify.stdout).toMatch(/^All \d+ entries hold\./m);
  const again = await start("serve", "--data", empty.data);
  await page.goto(again.url);
  await expect(page.getByRole("heading", { name: "Samphire S2" })).toBeVisible();
  const setup = (await page.locator(".errand.now").first().getAttribute("href")).match(/setups\/([^?]+)/)[1];
  await again.stop();
  const exported = spawnSync("bin/orpine", ["worksheet", "--data", empty.data, setup], { encoding: "utf8" });
  expect(solve(exported.stdout)[0].kind).toBe("bench");
});

test("another site cannot post here, and other hosts are turned away", async ({ page, demo }) => {
  const post = (headers) => page.request.post(demo.setup + "/moved", { form: { id: "from-elsewhere", what: "moved" }, headers });
  expect((await post({ Origin: "http://elsewhere.example", "Sec-Fetch-Site": "cross-site" })).status()).toBe(403);
  expect((await page.request.get(demo.url, { headers: { Host: "elsewhere.example" } })).status()).toBe(421);
  const answer = await page.request.get(demo.url);
  expect(answer.headers()["content-security-policy"]).toContain("script-src 'self'");
  expect(answer.headers()["content-security-policy"]).not.toContain("unsafe");
});
