// What a go rests on: instruments and points as they are known, the words that say so, and
// holds that cannot be walked round.
import { again, byFigures, checkOf, expect, id, instead, layers, settled, test } from "./workshop.mjs";

const says = (page, ...texts) => Promise.all(texts.map((text) => expect(page.locator(".answer")).toContainText(text)));

const keep = async (page, text) => {
  const id = await page.locator("form.reading input[name=id]").inputValue();
  await page.locator("#text").fill(text);
  await again(page);
  await page.locator("#text").press("Enter");
  await expect(page.locator(`form.reading input[name=id][value="${id}"]`)).toHaveCount(0);
  await settled(page);
};

test("a join says what its points cost, and a distance between two of them is one tap away", async ({ page, demo }) => {
  await page.goto(`${demo.url}/setups/${id("tailplane join")}?spot=6`);
  await instead(page, "misread");
  await keep(page, "5922");
  await says(page, "Go", "inside the limits, and surely", "Rests on level 2; 5 m steel tape; laser level; the board on the airframe, not turned round", "of the doubt in pitch is where the points lie, most of all aft L", "± is 95 %, rounded up");
  await page.getByRole("link", { name: "limits and points" }).click();
  await page.getByLabel("Points on the airframe").fill("a bit");
  await page.getByRole("button", { name: "Keep the changes" }).click();
  await expect(page.getByRole("alert")).toContainText("a bit");
  await expect(page.getByLabel("Points on the airframe")).toHaveValue("a bit");
  await page.getByLabel("Points on the airframe").fill("");
  await page.getByLabel("Marks").fill("");
  await page.getByRole("button", { name: "Keep the changes" }).click();
  await says(page, "Unsure");
  await page.goto(`${demo.url}/setups/${id("tailplane join")}/checks/${checkOf("tailplane join", 0)}?type=distance&from=firewall&to=boom%20root`);
  await page.getByRole("button", { name: "Add the reading" }).click();
  await says(page, "Read firewall to boom root");
});

test("a board is turned round, and an offset is from a string until it is said not to be", async ({ page, demo }) => {
  await page.goto(`${demo.url}/setups/${id("tailplane join")}?spot=6`);
  await instead(page, "misread");
  await keep(page, "5922");
  for (const spot of [1, 2]) {
    await page.goto(`${demo.url}/setups/${id("tailplane join")}?spot=${spot}`);
    await page.getByLabel("over a board, which is now turned end for end").focus();
    await page.keyboard.press("Space");
    await page.locator("#text").fill("x");
    await again(page);
    await page.locator("#text").press("Enter");
    await expect(page.getByRole("alert")).toContainText("x");
    await expect(page.getByLabel("over a board, which is now turned end for end")).toBeChecked();
    await keep(page, spot === 1 ? "0.18 R" : "0.22 up");
  }
  await expect(page.locator(".answer")).not.toContainText("not turned round");
  await says(page, "Taken into account: board turned round, the string; each is in the arithmetic");
  await page.goto(`${demo.url}/setups/${id("tailplane join")}?spot=1&shown=yes`);
  await page.locator("#record summary").click();
  await expect(page.locator("#record")).toContainText("board turned round");
  await expect(page.getByLabel("over a board, which is now turned end for end")).not.toBeChecked();

  await page.goto(`${demo.url}/setups/${id("foreplane join")}?spot=6`);
  await page.getByLabel("from the airframe itself").check();
  await instead(page, "misread");
  await keep(page, "0.5");
  await page.goto(`${demo.url}/setups/${id("foreplane join")}?spot=6&shown=yes`);
  await page.locator("#record summary").click();
  await expect(page.locator("#record")).toContainText("no string");
});

test("a tape is added by its class; strong, weak and digits too fine are understood", async ({ page, demo }) => {
  await page.goto(demo.url + "/instruments");
  await page.getByText("Add an instrument").click();
  await page.getByLabel("Name").fill("8 m tape");
  await page.getByLabel("What it is").selectOption("pocket tape by its hook");
  await page.getByLabel("Smallest step").fill("1 mm");
  await page.getByLabel("Class of a tape").selectOption("0.3 mm + 0.2 mm a metre");
  await page.getByLabel("grams a metre").fill("heavy");
  await page.getByRole("button", { name: "Add the instrument" }).click();
  await expect(page.getByRole("alert")).toContainText("grams a metre, as 20");
  await expect(page.getByLabel("Class of a tape")).toHaveValue("0.3 mm + 0.2 mm a metre");
  await page.getByLabel("grams a metre").fill("25");
  await page.getByRole("button", { name: "Add the instrument" }).click();
  const card = page.locator(".instrument", { hasText: "8 m tape" });
  await expect(card).toContainText("0.2 mm");
  await page.getByText("Add an instrument").click();
  await page.getByLabel("Name").fill("tape of a class");
  await page.getByLabel("What it is").selectOption("pocket tape by its hook");
  await page.getByLabel("Class of a tape").selectOption("0.3 mm + 0.2 mm a metre");
  await page.getByRole("button", { name: "Add the instrument" }).click();
  await expect(page.locator(".instrument", { hasText: "tape of a class" })).toContainText("1 mm");
  await card.getByText("Spread: ten placings").click();
  await expect(card.locator("[name=spread10]")).toBeVisible();

  await page.goto(`${demo.url}/setups/${id("tailplane join")}?spot=5`);
  await instead(page, "misread");
  await page.locator("#text").fill("5921 strong");
  await expect(page.locator("#echo")).toContainText("read as 5921.2 mm");
  await page.getByText("the tape hangs between its ends").click();
  await keep(page, "5921 strong");
  await page.goto(`${demo.url}/setups/${id("tailplane join")}?spot=5&shown=yes`);
  await page.locator("#record summary").click();
  await expect(page.locator("#record")).toContainText("hanging");
  await instead(page, "misread");
  await page.locator("#text").fill("5921.37");
  await page.locator("#text").press("Enter");
  await expect(page.locator("#text-problem")).toContainText("5921.37 from 5 m steel tape of 1 mm steps?");
  await expect(page.locator("#text")).toHaveValue("5921.37");
});

test("what is said of the temperature is asked once and used always", async ({ page, demo }) => {
  await page.goto(`${demo.url}/setups/${id("tailplane join")}`);
  await page.getByText("Temperature: material or temperature not said").click();
  await page.getByLabel("the part is of").selectOption("aluminium");
  await page.getByLabel("the shop at").fill("cold");
  await page.getByRole("button", { name: "Keep it", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("degrees Celsius");
  await expect(page.getByText("Temperature: material or temperature not said")).toBeVisible();
  await expect(page.getByLabel("the part is of")).toHaveValue("aluminium");
  await expect(page.getByLabel("the shop at")).toHaveValue("cold");
  await page.getByLabel("the shop at").fill("4");
  await page.getByRole("button", { name: "Keep it", exact: true }).click();
  await expect(page.getByText("Temperature: aluminium, 4 °C")).toBeVisible();
  const worksheet = await (await page.request.get(`${demo.url}/setups/${id("tailplane join")}/worksheet.json`)).text();
  expect(worksheet).toContain("to 20 °C");
  await says(page, "Taken into account", "to 20 °C");
  await page.getByText("Show the arithmetic", { exact: true }).click();
  await expect(page.locator(".working")).toContainText("to 20 °C");
});

test("a twist is of part and bench together until it is said how the surface lies", async ({ page, demo }) => {
  await page.goto(`${demo.url}/setups/${id("brackets")}`);
  await page.getByRole("link", { name: "One more check" }).click();
  await page.getByRole("link", { name: "Twist along a surface", exact: true }).click();
  for (const [cell, value] of [["0.0", "left"], ["0.1", "0"], ["1.0", "right"], ["1.1", "2880"], ["2.0", ""], ["2.1", ""]]) await page.locator(`[name='0.stations.${cell}']`).fill(value);
  await page.getByRole("button", { name: "Add the check" }).click();
  await expect(page.getByRole("alert")).toContainText("right at 2880: these places lie 2880 mm apart"); // on brackets
  await page.getByRole("button", { name: "It is so: go on" }).click();
  await page.locator(".checks > a:not(.more)").last().click();
  await page.locator("select[name=instrument]").selectOption({ label: "level 2" });
  await keep(page, "0.10");
  await keep(page, "0.30");
  await says(page, "Not yet", "part and bench together", "Say how it lies", "stiff or flexible, lying or held?");
  await page.getByRole("button", { name: "stiff, lying free" }).click();
  await says(page, "twist of the part, tip over root", "outboard trailing edge low: wash-in");
});

test("a row inherits the hold before drilling, and opting out needs a reason", async ({ page, demo }) => {
  await page.goto(`${demo.url}/assemblies/${id("tailplane")}/rows/new`);
  const drill = page.getByRole("checkbox", { name: "Drill the tailplane's end holes" });
  await expect(drill).toBeChecked();
  await page.getByLabel("Which row is it?").fill("end rib");
  await layers(page, [["aluminium", "0.8 mm", "plain"], ["aluminium", "1.0 mm", "plain"]]);
  await page.getByLabel("Diameter").fill("1/8 in");
  await byFigures(page, { count: "4", pitch: "25 mm", first: "10 mm" });
  await drill.uncheck();
  await page.getByRole("button", { name: "Lay it out" }).click();
  await expect(page.getByRole("alert").first()).toContainText("tie the row to it, or say why it is not for this row");
  await expect(page.getByLabel("Which row is it?")).toHaveValue("end rib");
  await expect(drill).not.toBeChecked();
  await drill.check();
  await page.getByRole("button", { name: "Lay it out" }).click();
  await expect(page.locator(".in-hand")).toBeVisible();
  await page.keyboard.press("d");
  await expect(page.locator(".in-hand .problem")).toContainText("the hold “Drill the tailplane's end holes” is not released");
});
