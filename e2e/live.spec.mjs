// Instruments that speak: played by the program, and by a few lines that know docs/instruments.md only.
import { spawn } from "node:child_process";
import { once } from "node:events";
import { createServer, connect } from "node:net";
import { createInterface } from "node:readline";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { again, expect, id, orpine, settled, test } from "./workshop.mjs";


test("the played instrument speaks the protocol", async () => {
  const part = join(mkdtempSync(join(tmpdir(), "orpine-part-")), "part.json");
  writeFileSync(part, JSON.stringify({ format: "orpine.part", version: 1, name: "bar", spots: [{ point: "length", field: "value", true: "1200.4", unit: "mm" }] }));
  const program = spawn(orpine, ["instrument", "tape", "--listen", "127.0.0.1:0", "--part", part, "--seed", "4"]);
  const port = Number((await once(program.stdout, "data"))[0].toString().match(/:(\d+)/)[1]);
  const line = connect(port, "127.0.0.1");
  const lines = createInterface({ input: line })[Symbol.asyncIterator]();
  const next = async () => JSON.parse((await lines.next()).value);
  const identity = await next();
  expect(identity).toMatchObject({ instrument: "tape", protocol: 1, unit: "mm" });
  expect(await next()).toMatchObject({ n: 1, error: expect.any(String) });
  line.write('nonsense\n{"at":{"list":"","point":"length","field":"value","turned":false,"placing":1}}\n');
  let shown;
  do shown = await next();
  while (!shown.steady);
  expect(shown.reading).toMatch(/^-?\d+$/);
  expect(shown.unit).toBe("mm");
  line.destroy();
  program.kill("SIGINT");
});

// A level of a few lines: what it shows at a spot is in a table.
async function level(shows) {
  const held = [];
  const sockets = new Set();
  const server = createServer((socket) => {
    sockets.add(socket);
    let at = null, since = 0, n = 0;
    socket.on("error", () => {});
    socket.write(JSON.stringify({ instrument: "level", serial: "N-1", protocol: 1, unit: "deg", resolution: "0.01", colour: "red" }) + "\n");
    createInterface({ input: socket }).on("line", (text) => {
      at = JSON.parse(text).at;
      since = Date.now();
      held.push(at);
    });
    const timer = setInterval(() => {
      n++;
      if (n % 7 === 0) socket.write("%%% noise\n");
      if (!at) return socket.write(JSON.stringify({ error: "not held", n }) + "\n");
      socket.write(JSON.stringify({ reading: shows(at), unit: "deg", steady: Date.now() - since > 300, n, battery: 50 }) + "\n");
    }, 60);
    socket.on("close", () => clearInterval(timer));
  });
  server.listen(0, "127.0.0.1");
  await once(server, "listening");
  return { address: `127.0.0.1:${server.address().port}`, held, pull: () => sockets.forEach((s) => s.destroy()), close: () => (sockets.forEach((s) => s.destroy()), server.close()) };
}

test("a setup is measured from end to end by an instrument", async ({ page, demo }) => {
  // rails twisted by 0.31°, the part by 0.02° more; the level shows 0.04° too little
  const share = (point) => ["left tip", "left middle", "centre", "right middle", "right tip"].indexOf(point) / 4;
  const tool = await level((at) => {
    const v = at.point === "end for end" ? 0.12 : share(at.point) * (at.field === "support" ? 0.31 : 0.33);
    return ((at.turned ? -v : v) - 0.04).toFixed(2);
  });
  await page.goto(demo.url + "/instruments");
  const card = page.locator("section.instrument", { has: page.getByRole("heading", { name: /^level 2/ }) });
  await card.getByText("It speaks: connect it").click();
  await card.getByLabel("Where it answers").fill("10.0.0.9:7001");
  await card.getByRole("button", { name: "Connect", exact: true }).click();
  await expect(card).toContainText("on this one only");
  await expect(card.getByLabel("Where it answers")).toHaveValue("10.0.0.9:7001");
  await card.getByLabel("Where it answers").fill(tool.address);
  await page.keyboard.press("Enter");
  // its zero, end for end
  const take = card.getByRole("button", { name: "Take it" });
  await expect(take).toBeEnabled();
  await take.click();
  await expect(card.getByLabel("First", { exact: true })).toHaveValue("0.08");
  await expect(card).toContainText("Now turn it end for end");
  await expect(take).toBeEnabled();
  await take.click();
  await expect(card.getByLabel("Turned, same spot")).toHaveValue("-0.16");
  await card.getByRole("button", { name: "Prove the zero" }).click();
  await expect(card).toContainText("zero −0.04°");

  await page.goto(demo.setup);
  await page.getByRole("link", { name: /^Twist/ }).click();
  await page.locator("#moved-what").selectOption("re-clamped");
  await page.getByRole("button", { name: "Something moved" }).click();
  await page.getByRole("link", { name: /^Twist/ }).click();
  const strip = page.locator("#gauge");
  for (let i = 0; i < 10; i++) {
    await expect(page.getByRole("link", { name: new RegExp(`^Twist ${i} of 10`) })).toBeVisible();
    await expect(page.locator(".reading [name=instrument]")).toHaveValue(id("level 2"));
    await expect(strip).toHaveClass(/ready/);
    await page.keyboard.press("Escape"); // out of the field, to the single keys
    await page.keyboard.press("g");
    if (i === 4) tool.pull(); // the plug: it is dialled again, and what was taken stays
  }
  await expect(page.getByRole("link", { name: /^Twist 10 of 10/ })).toBeVisible();
  await expect(page.locator(".below")).toContainText("Go");
  // one more placing, by the key that stays; what was sent is on the record
  await page.locator("a.value").first().click();
  await expect(strip).toContainText("The ± suffices: it says go.");
  await expect(strip).toContainText("one placing here: ±");
  await expect(strip).toHaveClass(/ready/);
  await again(page);
  await page.keyboard.press("Escape");
  await page.keyboard.press("G");
  await expect(strip).toContainText("2 placings here: ±");
  await settled(page);
  await page.keyboard.press("Escape");
  await page.keyboard.press("v");
  await page.locator("#record summary").click();
  await expect(page.locator("#record abbr").first()).toHaveAttribute("title", /"serial":"N-1"/);
  expect(new Set(tool.held.map((at) => at.point)).size).toBe(6);
  tool.close();
  await expect(strip).toContainText("dialling again");
  await page.locator("#text").fill("0.01");
  await page.getByRole("button", { name: "Keep it", exact: true }).click();
  await expect(page.locator(".problem")).toHaveCount(0);
});
