// What years of building bring: late parts, wrong hands, cures over a restart, months away.
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { checkRecord, expect, id, press, start, test } from "./workshop.mjs";

const day = (n) => new Date(Date.now() + n * 864e5).toISOString().slice(0, 10);

// begin makes an aircraft in an empty workshop, and goes to its order of work.
async function begin(page, url) {
  await page.goto(url + "/begin/low-wing");
  await page.locator("[name=name]").fill("Tansy T3");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Tansy T3" })).toBeVisible();
  await page.goto(url + "/order");
}

async function addSteps(page, ...lines) {
  const line = page.getByLabel("What, how long, who, after what");
  for (const text of lines) {
    await line.fill(text);
    await page.keyboard.press("Enter");
    await expect(line).toHaveValue("");
  }
}

async function evenings(page) {
  for (const name of ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]) {
    await page.locator(`[name="from.${name}"]`).fill("19:00");
    await page.locator(`[name="long.${name}"]`).fill("2 h");
  }
  await page.getByRole("button", { name: "Keep them" }).click();
}

test("a helper's evening of the demo is packed, printed on one page and ticked", async ({ page, demo }) => {
  await page.goto(demo.url + "/order");
  await page.locator("section[aria-labelledby=visits] a").first().click();
  await expect(page.locator(".parts").first()).toContainText("To be done together");
  await expect(page.locator(".parts").first().locator("li").first()).toContainText(/\d (h|min)/);
  await page.emulateMedia({ media: "print" });
  const pages = await page.pdf({ format: "A4" });
  expect(pages.toString("latin1").match(/\/Type\s*\/Page\b/g)).toHaveLength(1);
  await page.emulateMedia({ media: "screen" });
  await page.getByRole("link", { name: "order of work" }).click();
  await expect(page.getByRole("heading", { name: "Order of work" })).toBeVisible();
});

test("a late part becomes meanwhile-work, and what waits says for what", async ({ page, empty }) => {
  await begin(page, empty.url);
  await evenings(page);
  await page.goto(empty.url + "/money");
  const form = page.locator("form", { hasText: "Days from asking" });
  await form.locator("[name=name]").fill("propeller");
  await form.locator("[name=supplier]").fill("hub shop");
  await form.locator("[name=asked]").fill(day(-30));
  await form.locator("[name=promised]").fill(day(-3));
  await form.getByRole("button", { name: "Put it in" }).click();
  await expect(page.locator("section[aria-labelledby=orders]")).toContainText("overdue");
  await page.goto(empty.url + "/order");
  await addSteps(page, "fit the propeller, 2-2-4 h, needs propeller", "track the propeller, 1 h, after fit the propeller", "wire the right wing, 3-4-6 h");
  await expect(page.locator(".tonight")).toContainText("wire the right wing");
  await expect(page.locator("section[aria-labelledby=meanwhile]")).toContainText("wire the right wing");
  await expect(page.locator("section[aria-labelledby=meanwhile]")).toContainText("you wait: the order propeller, expected " + day(1));
  await expect(page.locator("section[aria-labelledby=held]")).toContainText("waits for the order propeller, expected " + day(1));
  await expect(page.locator("section[aria-labelledby=held]")).toContainText("waits for fit the propeller");
  await page.goto(empty.url + "/money");
  await page.getByRole("button", { name: "Arrived: propeller" }).click();
  await page.goto(empty.url + "/order");
  await expect(page.locator("section[aria-labelledby=now]")).toContainText("fit the propeller");
});

test("a cure goes on while the program is off", async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), "orpine-cure-"));
  let program = await start("serve", "--data", data);
  await begin(page, program.url);
  await evenings(page);
  await addSteps(page, "prime the ribs, 1 h", "rivet the ribs, 2 h, after prime the ribs");
  await page.goto(program.url + "/cures");
  await page.getByText("Write a table down").click();
  const table = page.locator("form", { hasText: "Coats at least" });
  await table.locator("[name=name]").fill("primer");
  await table.getByRole("button", { name: "Keep the table" }).click();
  await expect(page.getByRole("alert").first()).toContainText("one line at least");
  await table.locator("[name='table.0.0']").fill("15");
  await table.locator("[name='table.0.4']").fill("8 h");
  await table.locator("[name='table.0.5']").fill("2 d");
  await table.getByRole("button", { name: "Keep the table" }).click();
  await expect(page.locator("summary", { hasText: "primer" })).toBeVisible();
  const form = page.locator("form", { hasText: "How warm is the shop" });
  await form.locator("[name=what]").fill("left ribs");
  await form.locator("[name=material]").selectOption({ label: "primer" });
  await form.locator("[name=step]").selectOption({ label: "prime the ribs" });
  await form.getByRole("button", { name: "Start it" }).click();
  await expect(form.getByRole("alert")).toContainText("how warm");
  await form.locator("[name=temperature]").fill("59 °F");
  await form.getByRole("button", { name: "Start it" }).click();
  await expect(page.locator(".runs")).toContainText("left ribs may be handled");
  await page.goto(program.url + "/order");
  await press(page, "Done: prime the ribs");
  await expect(page.locator("section[aria-labelledby=held]")).toContainText("prime the ribs cures until " + day(2));
  await program.stop();
  program = await start("serve", "--data", data);
  await page.goto(program.url + "/instruments");
  await expect(page.locator(".runs")).toContainText("left ribs may be handled");
  await page.goto(program.url + "/order");
  await expect(page.locator("section[aria-labelledby=held]")).toContainText("prime the ribs cures until " + day(2));
  await page.goto(program.url + "/cures");
  await page.getByRole("button", { name: "End: left ribs" }).click();
  await expect(page.locator(".card .problem")).toContainText("why does its clock end before?");
  await page.getByLabel("what became of it").fill("wiped off, it had dust in it");
  await page.getByRole("button", { name: "End: left ribs" }).click();
  await expect(page.locator(".runs")).toHaveCount(0);
  await checkRecord(page, program.url);
  await program.stop();
  rmSync(data, { recursive: true });
});

test("what was ordered over the wire arrives with the wrong hand, and goes back", async ({ page, demo }) => {
  await page.goto(demo.url + "/money");
  const rib = page.locator(`[id="${id("order aileron rib 3")}"]`);
  await expect(rib).toContainText("aileron rib 3, right");
  await rib.getByRole("button", { name: "How far is it" }).click();
  await expect(page.locator(".problem")).toHaveCount(0);
  await rib.getByRole("link", { name: "Open the box" }).click();
  await expect(rib.locator(".card")).toContainText("the label says “aileron rib 3 right”; 1 piece; laid with its flange up, its nose points to the left");
  await rib.locator("[name=count]").fill("1");
  await rib.getByLabel("cannot tell").check();
  await rib.getByRole("button", { name: "It came" }).click();
  await expect(rib.getByRole("alert")).toContainText("do not put it away unlooked");
  await expect(rib.locator("[name=count]")).toHaveValue("1");
  await rib.getByLabel("a left one").check();
  await rib.getByRole("button", { name: "It came" }).click();
  await expect(rib).toContainText("came wrong: it is a left one, and a right one was ordered");
  await page.goto(demo.url + "/order");
  await expect(page.locator("section[aria-labelledby=held]")).toContainText("waits for the order aileron rib 3");
  await page.goto(demo.url + "/money");
  await rib.getByRole("button", { name: "Sent back" }).click();
  await expect(rib).toContainText("sent back on " + day(0));
  const form = page.locator("form", { hasText: "Days from asking" });
  await form.locator("[name=name]").fill("cleco pliers");
  await form.locator("[name=supplier]").fill("parts counter");
  await form.locator("[name=count]").fill("2");
  await form.getByRole("button", { name: "Put it in" }).click();
  const pliers = page.locator("li", { hasText: "cleco pliers" });
  await pliers.getByRole("button", { name: "Order it" }).click();
  await expect(pliers).toContainText("promised");
  await expect(pliers).toContainText("EUR");
  await pliers.getByRole("link", { name: "Open the box" }).click();
  await expect(pliers.getByRole("alert")).toContainText("it has not come yet");
  await checkRecord(page, demo.url);
});

test("hours count as they were over midnight and over a change of the clocks", async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), "orpine-hours-"));
  const program = await start("serve", "--data", data, { zone: "Europe/Paris" });
  await begin(page, program.url);
  await page.getByText("Write hours down afterwards").click();
  const form = page.locator("form", { hasText: "before From is the next day" });
  const write = async (date, from, to) => {
    if (!(await form.isVisible())) await page.getByText("Write hours down afterwards").click();
    for (const [name, text] of Object.entries({ who: "kit", date, from, to })) await form.locator(`[name=${name}]`).fill(text);
    await form.getByRole("button", { name: "Write it down" }).click();
  };
  const total = (text) => expect(page.getByRole("heading", { name: "Hours: " + text, exact: true })).toBeVisible();
  await write("2026-03-28", "22:00", "04:00"); // the clocks go forward at two: five hours
  await total("5 h");
  await write("2025-10-25", "23:00", "04:00"); // and back at three: six
  await total("11 h");
  await write("2026-03-29", "02:30", "04:00");
  await expect(form.getByRole("alert")).toContainText("It must be a time that there was on that day");
  await page.goto(program.url + "/hours");
  await page.getByText("A sheet that you kept, as CSV").click();
  await page.locator("[name=csv]").fill("date;from;to;who\n2026-03-28;23:00;01:00;kit\n2026-03-31;19:00;late;kit");
  await page.getByRole("button", { name: "Bring them in" }).click();
  await expect(page.getByRole("alert").first()).toContainText('line 3: to "late" is no time');
  await page.locator("[name=csv]").fill("date;from;to;who\n2026-03-28;23:00;01:00;kit\n2026-03-31;19:00;20:00;kit");
  await page.getByRole("button", { name: "Bring them in" }).click();
  await expect(page.getByRole("heading", { name: /^Hours · 12 h/ })).toBeVisible(); // two of them lie within the first: no minute twice
  await program.stop();
  rmSync(data, { recursive: true });
});

test("after months away it says where one was", async ({ page }) => {
  const data = mkdtempSync(join(tmpdir(), "orpine-away-"));
  cpSync("test/shops/testdata/helpers-evening", data, { recursive: true });
  const program = await start("serve", "--data", data);
  await page.goto(program.url + "/order");
  await page.getByRole("link", { name: "Where you were" }).first().click();
  await expect(page.locator(".sub")).toContainText(/\d+ days away/);
  await expect(page.locator("main")).toContainText("Rows half set");
  await page.locator("main section a").first().click();
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await program.stop();
  rmSync(data, { recursive: true });
});

test("work is started at the foot of any sheet, and something else was done", async ({ page, demo }) => {
  await page.goto(demo.url + "/assemblies/" + id("fin"));
  await page.locator("footer").getByText("Work", { exact: true }).click();
  await page.getByLabel("Who works?").fill("Robin");
  await page.getByRole("button", { name: "Start: rework" }).click();
  await expect(page.locator(".runs")).toContainText("Robin rework");
  await page.goto(demo.url + "/stores");
  await page.getByRole("button", { name: "Stop: Robin" }).click();
  await expect(page).toHaveURL(/\/stores/);
  await expect(page.locator(".runs")).not.toContainText("Robin");
  await page.goto(demo.url + "/order");
  await page.locator(".tonight").getByLabel("who").fill("Robin");
  await page.getByRole("button", { name: "I did something else tonight" }).click();
  await page.goto(demo.url + "/hours");
  await expect(page.locator("section[aria-labelledby=sessions] li").first()).toContainText("Robin, project");
  await page.goto(demo.url + "/order");
  await press(page, "Split: panel wiring");
  await expect(page.locator("main")).toContainText("panel wiring, part 2");
});

test("a question freezes a step until somebody decided", async ({ page, empty }) => {
  await begin(page, empty.url);
  await addSteps(page, "fit the pump, 2 h");
  await page.getByRole("link", { name: "questions", exact: true }).click();
  const form = page.locator("form", { hasText: "What it freezes" });
  await form.getByRole("button", { name: "Write it down" }).click();
  await expect(form.getByRole("alert")).toContainText("what is the question?");
  await form.locator("[name=text]").fill("which pump?");
  await form.locator("[name=whom]").fill("kit maker");
  await form.getByLabel("1 what it freezes").selectOption({ label: "fit the pump" });
  await form.getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator(".card")).toContainText("Waits for it: fit the pump");
  await page.goto(empty.url + "/order");
  await expect(page.locator("section[aria-labelledby=held]")).toContainText("which pump? (asked of kit maker)");
  await page.goto(empty.url + "/questions");
  await page.getByLabel("the answer").fill("the small one");
  await page.getByLabel("who decided").fill("kit maker");
  await page.getByRole("button", { name: "Answered: which pump?" }).click();
  await page.goto(empty.url + "/order");
  await expect(page.locator("section[aria-labelledby=now]")).toContainText("fit the pump");
});

test("an inch aircraft begins with a usual order, and walks it", async ({ page, empty }) => {
  await begin(page, empty.url);
  await page.getByRole("link", { name: "Start from a usual order" }).first().click();
  await page.getByLabel("hours of step 2", { exact: true }).fill("a day");
  await page.getByLabel("Two wings").selectOption("one at a time");
  await page.getByRole("button", { name: "Lay it as my order" }).click();
  await expect(page.getByRole("alert").first()).toContainText("how long");
  await expect(page.getByLabel("hours of step 2", { exact: true })).toHaveValue("a day");
  await expect(page.getByLabel("Two wings")).toHaveValue("one at a time");
  await page.getByLabel("hours of step 2", { exact: true }).fill("8 h");
  await page.getByRole("button", { name: "Lay it as my order" }).click();
  await expect(page.locator("section[aria-labelledby=now]")).toContainText("count the crates");
  await expect(page.locator("main")).not.toContainText(/\d mm\b/);
  await page.getByRole("link", { name: "network" }).click();
  await page.locator(".net a").first().focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("count the crates");
  await page.locator("main").getByRole("link", { name: /build and level the bench/ }).last().click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("build and level the bench");
  await checkRecord(page, empty.url);
});
