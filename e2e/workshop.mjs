// A workshop of its own for each test: the real program on a free port.
import { test as base, expect } from "@playwright/test";
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

export const orpine = "bin/orpine";

// child is the UUID (version 5) of a name within another UUID.
function child(parent, name) {
  const hash = createHash("sha1").update(Buffer.from(parent.replaceAll("-", ""), "hex")).update(name).digest().subarray(0, 16);
  hash[6] = (hash[6] & 0x0f) | 0x50;
  hash[8] = (hash[8] & 0x3f) | 0x80;
  return hash.toString("hex").replace(/^(.{8})(.{4})(.{4})(.{4})/, "$1-$2-$3-$4-");
}

// The demo's ids, by the names that it has for its things.
const space = child("6ba7b812-9dad-11d1-80b4-00c04fd430c8", "orpine demo");
export const id = (name) => child(space, name);
export const checkOf = (setup, number) => child(id(setup), `check ${number}`);
export const holdOf = (setup) => child(id(setup), "hold");
export const bay = child(id("close boom"), "bay");

// start runs orpine and returns its address once it answers; in another zone where one is named.
export async function start(...args) {
  const zone = args.at(-1)?.zone ? { TZ: args.pop().zone } : {};
  let copy = "";
  if (args.length === 1 && args[0] === "demo" && process.env.ORPINE_DEMO) {
    copy = mkdtempSync(join(tmpdir(), "orpine-e2e-copy-"));
    cpSync(process.env.ORPINE_DEMO, copy, { recursive: true });
    args = ["serve", "--data", copy, "--supplier", process.env.ORPINE_SUPPLIER];
  }
  const program = spawn(orpine, [...args, "--addr", "127.0.0.1:0"], { env: { ...process.env, ...zone } });
  let said = "";
  const url = await new Promise((resolve, reject) => {
    program.stdout.on("data", (data) => {
      said += data;
      const at = said.match(/http:\/\/[\d.:]+/);
      if (at) resolve(at[0]);
    });
    program.stderr.on("data", (data) => (said += data));
    program.on("exit", () => reject(new Error(said)));
  });
  const stop = async () => {
    await (program.exitCode ?? new Promise((resolve) => (program.once("exit", resolve), program.kill("SIGINT"))));
    if (copy) rmSync(copy, { recursive: true });
  };
  return { url, stop };
}

// network is a shop that phones reach over TLS: its address, how the first builder gets in, and a
// home whose browsers trust the shop's certificate, as a phone comes to.
export async function network(data) {
  const program = spawn(orpine, ["serve", "--lan", "--data", data, "--addr", "127.0.0.1:0", "--lan-addr", "127.0.0.1:0"]);
  let said = "";
  await new Promise((resolve, reject) => {
    program.stdout.on("data", (part) => (said += part).includes("Orpine is at") && resolve());
    program.on("exit", () => reject(new Error(said)));
  });
  const url = said.match(/https:\/\/127\.0\.0\.1:\d+/)[0];
  const home = mkdtempSync(join(tmpdir(), "orpine-home-"));
  const pem = join(home, "shop.pem");
  const store = join(home, ".pki", "nssdb");
  mkdirSync(store, { recursive: true });
  writeFileSync(pem, readFileSync(join(data, "lan", "authority.pem"), "utf8").match(/-----BEGIN CERTIFICATE[^]*END CERTIFICATE-----/)[0]);
  for (const args of [["-N", "--empty-password"], ["-A", "-n", "shop", "-t", "C,,", "-i", pem]]) expect(spawnSync("certutil", [args[0], "-d", "sql:" + store, ...args.slice(1)]).status, "certutil").toBe(0);
  const stop = () => program.exitCode ?? new Promise((resolve) => (program.once("exit", resolve), program.kill("SIGINT")));
  return { url, home, code: said.match(/code is (\d{4} \d{4})/)?.[1], plain: said.match(/http:\/\/[\d.:]+/)[0], stop };
}

// unfold opens all that something is folded away in, as one does before it is pressed.
export const unfold = (locator) => locator.evaluate((e) => {
  for (let fold = e.closest("details"); fold; fold = fold.parentElement.closest("details")) fold.open = true;
});

// press presses a button, wherever it is folded away.
export async function press(page, name) {
  const button = page.getByRole("button", { name, includeHidden: true });
  await unfold(button);
  await button.click();
}

// solve runs a worksheet through the command line and returns its results.
export function solve(worksheet) {
  const run = spawnSync(orpine, ["solve", "-"], { input: worksheet, encoding: "utf8" });
  expect(run.status).toBe(0);
  return JSON.parse(run.stdout).results;
}

// expected are the browser's own words about refused forms, aborted echoes and a
// connection that a test cut.
const expected = /^htmx:|net::ERR_|responded with a status of 4|ERR_INTERNET_DISCONNECTED|ERR_CONNECTION_RESET/;

export const test = base.extend({
  // demo is the net loft, fresh.
  demo: async ({ page }, use) => {
    const program = await start("demo");
    const complaints = [];
    page.on("pageerror", (error) => complaints.push(error.message));
    page.on("console", (message) => {
      if (message.type() === "error" && !expected.test(message.text())) complaints.push(message.text());
    });
    await use({
      url: program.url,
      setup: program.url + "/setups/" + id("tailplane on rails"),
      hold: program.url + "/holds/" + holdOf("tailplane on rails"),
    });
    expect(complaints, "nothing went wrong in the browser").toEqual([]);
    await program.stop();
  },
  // shown is a net loft that is looked at and not changed, one for each worker.
  shown: [
    async ({}, use) => {
      const program = await start("demo");
      await use(program);
      await program.stop();
    },
    { scope: "worker" },
  ],
  // empty is a workshop with nothing in it, and its data directory.
  empty: async ({}, use) => {
    const data = mkdtempSync(join(tmpdir(), "orpine-e2e-"));
    const program = await start("serve", "--data", data);
    await use({ ...program, data });
    await program.stop();
    rmSync(data, { recursive: true });
  },
});

// The demo's readings, in walking order.
export const heights = ["50.5", "50", "52.5", "50", "52", "47.5"];
export const angles = ["0.05 up", "0.06 up", "0.14 up", "0.14 up", "0.23 up", "0.21 up", "0.31 up", "0.30 up", "0.39 up", "0.37 up"];

// takeAll types readings at the points as they come, until the check is complete.
export async function takeAll(page, texts) {
  for (const text of texts) {
    await page.locator("#text").fill(text);
    const before = await page.locator("input[name=number]").first().inputValue();
    await page.locator("#text").press("Enter");
    await expect(page.locator(`form.reading input[name=number][value="${before}"]`)).toHaveCount(0);
  }
}

export { expect };

// checkRecord has the record checked, and waits for the result.
export async function checkRecord(page, url) {
  await page.goto(url + "/log");
  await page.getByRole("button", { name: "Check the record" }).click();
  await expect(async () => {
    await page.goto(url + "/log");
    await expect(page.locator(".checked")).toContainText("entries hold", { timeout: 500 });
  }).toPass();
}

// The layers of a row, each as the fields of its line.
export async function layers(page, lines) {
  for (const [i, line] of lines.entries()) {
    await page.locator(`[name='layers.${i}.0']`).selectOption(line[0]);
    await page.locator(`[name='layers.${i}.1']`).fill(line[1]);
    if (line[2]) await page.locator(`[name='layers.${i}.2']`).selectOption(line[2]);
  }
}

// A row laid by figures instead of by pointing: what is typed, by the names of the fields.
export async function byFigures(page, figures) {
  await page.getByLabel("by figures").check();
  if (!(await page.locator(".lay details[open]").count())) await page.locator(".lay details > summary").click();
  for (const [name, text] of Object.entries(figures)) await page.locator(`.lay [name=${name}]`).fill(text);
}

// settled waits until what was asked for is drawn: a click on what is about to be replaced is lost.
export const settled = (page) => page.waitForFunction(() => !document.querySelector(".htmx-request, .htmx-settling, .htmx-swapping"));

// instead says that the reading stands in place of the old one, and why.
export async function instead(page, reason) {
  await expect(page.locator("[name=in_place]").first()).toBeVisible();
  const old = page.locator("[name=in_place][value=old]");
  if (!(await old.count())) return page.locator(`[name=in_place][value="${reason}"]`).check();
  await old.check();
  await page.locator("[name=old_was]").selectOption(reason);
}

// again says how a further placing was made, where that is asked and not said yet.
export async function again(page, how = "same") {
  const radio = page.locator(`[name=in_place][value="${how}"]`);
  if ((await radio.count()) && !(await page.locator("[name=in_place]:checked").count())) await radio.check();
}
