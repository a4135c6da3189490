// The demo is made once for all tests: each works on a copy of it. The supplier that it asks keeps nothing, and is one for all.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { orpine, start } from "./workshop.mjs";

export default async function prepare() {
  const dir = mkdtempSync(join(tmpdir(), "orpine-e2e-demo-"));
  await (await start("demo", "--data", join(dir, "demo"))).stop();
  const supplier = spawn(orpine, ["supplier", "--listen", "127.0.0.1:0", "--seed", "13"]);
  const url = await new Promise((resolve, reject) => {
    supplier.stdout.once("data", (said) => resolve(String(said).match(/http:\/\/[\d.:]+/)[0]));
    supplier.once("exit", () => reject(new Error("the supplier ended")));
  });
  process.env.ORPINE_DEMO = join(dir, "demo");
  process.env.ORPINE_SUPPLIER = "parts counter=" + url;
  return () => {
    supplier.kill();
    rmSync(dir, { recursive: true });
  };
}
