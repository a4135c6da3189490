// A workshop of its own for each test: the real program on a free port.
import { test as base, expect } from "@playwright/test";
import { spawn, spawnSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

export const orpine = "bin/orpine";

// start runs orpine and returns its address once it answers.
export async function start(...args) {
  const program = spawn(orpine, [...args, "--addr", "127.0.0.1:0"]);
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
  const stop = () => program.exitCode ?? new Promise((resolve) => (program.once("exit", resolve), program.kill("SIGINT")));
  return { url, stop };
}

// solve runs a worksheet through the command line and returns its results.
export function solve(worksheet) {
  const run = spawnSync(orpine, ["solve", "-"], { input: worksheet, encoding: "utf8" });
  expect(run.status).toBe(0);
  return JSON.parse(run.stdout).results;
}

// expected are the browser's own words about refused forms, aborted echoes and a
// connection that a test cut.
const expected = /^htmx:|responded with a status of 4|ERR_INTERNET_DISCONNECTED/;

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
      setup: program.url + "/setups/tailplane-on-rails-demo",
      hold: program.url + "/holds/tailplane-on-rails-demo-hold",
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
