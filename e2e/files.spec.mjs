// The workshop goes out and comes in on the Files sheet; the API, by docs/api.md alone.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { checkRecord, expect, id, orpine, test } from "./workshop.mjs";

test("an aircraft goes out of one workshop and comes into another, shown before it is taken", async ({ page, shown, empty }) => {
  const at = mkdtempSync(join(tmpdir(), "orpine-files-"));
  await page.goto(shown.url + "/files");
  const down = page.waitForEvent("download");
  await page.getByRole("link", { name: "Samphire S2" }).click();
  const file = join(at, "samphire.zip");
  await (await down).saveAs(file);

  await page.goto(empty.url + "/files");
  await page.locator("form[action='/files/archive'] button").click();
  await expect(page.locator(".problem")).toContainText("choose a file first");
  const broken = join(at, "broken.zip");
  writeFileSync(broken, readFileSync(file).subarray(0, 5000));
  await page.getByLabel("An archive of").setInputFiles(broken);
  await page.locator("form[action='/files/archive'] button").click();
  await expect(page.locator(".problem")).toContainText("Nothing of it was taken");

  await page.getByLabel("An archive of").setInputFiles(file);
  await page.locator("form[action='/files/archive'] button").click();
  await expect(page.getByRole("heading", { name: "What would come of this archive" })).toBeVisible();
  await expect(page.getByText(/entries are new, 0 are here already/)).toBeVisible();
  expect((await (await fetch(empty.url + "/api/v1")).json()).last.seq).toBe(0); // nothing is written yet
  await page.getByLabel("Who takes it in?").fill("builder");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "It is in" })).toBeVisible();
  await page.goto(empty.url + "/setups/" + id("tailplane on rails"));
  await expect(page.getByRole("heading", { name: "Tailplane on the rails" })).toBeVisible();

  await page.goto(empty.url + "/files");
  await page.getByLabel("An archive of").setInputFiles(file);
  await page.locator("form[action='/files/archive'] button").click();
  await expect(page.getByText("All of it is here already")).toBeVisible();
  await page.goto(empty.url + "/log");
  await expect(page.getByText("archive taken in: Samphire S2")).toBeVisible();
  await checkRecord(page, empty.url);
});

test("the API gives the journal as a feed, and tables", async ({ shown }) => {
  const get = async (path) => {
    const r = await fetch(shown.url + path);
    return [r.status, await r.json()];
  };
  const [, index] = await get("/api/v1");
  expect(index).toMatchObject({ format: "orpine.api", version: 1 });
  let after = 0, more = true, hash = "";
  while (more) {
    const [, feed] = await get(`/api/v1/journal?after=${after}&most=200`);
    for (const e of feed.entries) {
      expect([e.seq, e.prev]).toEqual([after + 1, hash]);
      hash = createHash("sha256").update([e.prev, String(e.seq), e.id, e.at, e.kind, e.by, e.content].map((f) => `${Buffer.byteLength(f)}:${f}\n`).join("")).digest("hex");
      expect(e.hash).toBe(hash);
      after = e.seq;
    }
    expect(feed.after).toBe(after);
    more = feed.more;
  }
  expect(index.last).toEqual({ seq: after, hash });
  for (const table of index.tables) expect((await get(`/api/v1/tables/${table}?most=3`))[1].rows.length).toBeLessThanOrEqual(3);
  const [, readings] = await get("/api/v1/tables/readings?after=1&most=1");
  expect(readings.rows[0]).toHaveProperty("as typed");
  expect(await get("/api/v1/tables/secrets")).toEqual([404, { error: expect.any(String) }]);
  expect((await get("/api/v1/journal?most=0"))[0]).toBe(400);
  expect((await get("/api/v1/setups/none/worksheet"))[0]).toBe(404);
  const plan = await (await fetch(shown.url + "/order/plan.json")).text(); // the plan out of Order, as orpine plan reads it
  expect(JSON.parse(execFileSync(orpine, ["plan", "-"], { input: plan, maxBuffer: 1 << 26 })).schedule.length).toBeGreaterThan(20);
  const [, sheet] = await get(`/api/v1/setups/${id("tailplane on rails")}/worksheet`);
  expect(JSON.parse(execFileSync(orpine, ["solve", "-"], { input: JSON.stringify(sheet) })).results.length).toBeGreaterThan(0);
});

test("a table is tried line by line, mended, and taken", async ({ page, demo }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(demo.url + "/files");
  await page.locator("[name=sort]").selectOption("parts");
  await page.locator("[name=data]").fill("number,name,hand,lot,place\nT-1,nose rib,left,7,shelf A\nT-2,nose rib,upwards,7,shelf A\n");
  await page.locator("form[action='/files/table'] button[value=try]").click();
  await expect(page.getByText("Nothing was taken: mend these lines")).toBeVisible();
  await expect(page.locator(".brought")).toContainText("new");
  await expect(page.locator("[name=data]")).toHaveValue(/upwards/);
  await page.locator("[name=data]").fill("number,name,hand,lot,place\nT-1,nose rib,left,7,shelf A\nT-2,nose rib,right,7,shelf A\n");
  await page.locator("form[action='/files/table'] button[value=try]").click();
  await expect(page.getByText("Nothing is written yet.")).toBeVisible();
  await page.getByRole("button", { name: "Add it to this shop" }).click();
  await expect(page.getByText("It is in.")).toBeVisible();
  await page.goto(demo.url + "/stores");
  await expect(page.getByText("T-2", { exact: true })).toBeVisible();
});

test("a worksheet goes out of a setup and comes in as another", async ({ page, demo }) => {
  const sheet = await (await fetch(demo.setup + "/worksheet.json")).text();
  await page.goto(demo.url + "/files");
  const form = page.locator("form[action='/files/worksheet']");
  await form.locator("[name=sheet]").fill("{}");
  await form.getByRole("button", { name: "Look at it first" }).click();
  await expect(page.getByText("Nothing was taken")).toBeVisible();
  await form.locator("[name=sheet]").fill(sheet);
  await form.locator("[name=assembly]").selectOption({ label: "Samphire S2: Fin" });
  await form.locator("[name=name]").fill("as it came in");
  await form.getByRole("button", { name: "Look at it first" }).click();
  await expect(page.locator(".brought")).toContainText("Twist (twist) with 10 readings");
  await form.getByRole("button", { name: "Begin the setup" }).click();
  await expect(page.getByRole("heading", { name: "Fin as it came in" })).toBeVisible();
  await page.getByRole("link", { name: /^Twist 10 of 10/ }).click();
  await expect(page.locator(".below")).toContainText("+0.03°");
});

test("a plan goes out of Order and comes into another aircraft's", async ({ page, shown, empty }) => {
  const plan = await (await fetch(shown.url + "/order/plan.json")).text();
  await page.goto(empty.url + "/begin/low-wing");
  await page.locator("[name=name]").fill("Tansy T3");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Tansy T3" })).toBeVisible();
  await page.goto(empty.url + "/files");
  const form = page.locator("form[action='/files/plan']");
  await form.locator("[name=file]").setInputFiles({ name: "plan.json", mimeType: "application/json", buffer: Buffer.from(plan) });
  await form.getByRole("button", { name: "Look at it first" }).click();
  await expect(page.getByText("Nothing is written yet.")).toBeVisible();
  await form.getByRole("button", { name: "Add it to this shop" }).click();
  await expect(page.getByRole("heading", { name: "Order of work" })).toBeVisible();
  await expect(page.getByText("Tansy T3").first()).toBeVisible();
});
