import { deflateSync, crc32 } from "node:zlib";
import { bay, byFigures, checkRecord, expect, holdOf, id, layers, test } from "./workshop.mjs";

// picture is a small grey PNG.
function picture(width = 64, height = 48) {
  const chunk = (name, data) => {
    const body = Buffer.concat([Buffer.from(name), data]);
    const length = Buffer.alloc(4), sum = Buffer.alloc(4);
    length.writeUInt32BE(data.length);
    sum.writeUInt32BE(crc32(body));
    return Buffer.concat([length, body, sum]);
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 0, 0, 0, 0], 8);
  const rows = Buffer.alloc((width + 1) * height, 120);
  for (let y = 0; y < height; y++) rows[y * (width + 1)] = 0;
  return Buffer.concat([Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]), chunk("IHDR", header), chunk("IDAT", deflateSync(rows)), chunk("IEND", Buffer.alloc(0))]);
}

const inHand = (page, number) => expect(page.locator("#in-hand")).toContainText(`Hole ${number} `);

test("forty holes by keyboard, refused at the kept one, one bad, undone", async ({ page, demo }) => {
  await page.goto(demo.url + "/rows/" + id("row 3") + "?hole=43");
  await expect(page.locator("#in-hand")).toContainText("cleaned");
  for (let i = 43; i <= 76; i++) await page.keyboard.press("Space"); // faster than the answers come
  await inHand(page, 77);
  await page.keyboard.press("Space");
  await expect(page.locator(".in-hand .problem")).toContainText("hole 77 stays open for fin fairing (fit the fin fairing): do not set it");
  await inHand(page, 77);
  await page.keyboard.press("ArrowRight");
  await inHand(page, 78);
  for (let i = 78; i <= 83; i++) await page.keyboard.press("Space");
  await inHand(page, 84);
  await expect(page.locator(".head")).toContainText("81 set · 1 open · 1 bad · 1 cleaned");

  await page.keyboard.press("ArrowLeft");
  await inHand(page, 83);
  await page.keyboard.press("b");
  await page.keyboard.press("2");
  await expect(page.locator("#in-hand")).toContainText("bad, 1 scrapped");
  await expect(page.locator(".undo")).toContainText("Undo bad at 83");
  await page.keyboard.press("z");
  await expect(page.locator("#in-hand")).toContainText("set");
  await expect(page.locator(".head")).toContainText("81 set");

  // What is drilled out is cleaned and set again.
  await page.locator('a.hole[aria-label^="hole 17,"]').click();
  await inHand(page, 17);
  await page.keyboard.press("c");
  await expect(page.locator("#in-hand")).toContainText("cleaned");
  await page.keyboard.press("Space");
  await inHand(page, 18);
  await expect(page.locator(".board")).toContainText("Still to be closed: 84.");
  await checkRecord(page, demo.url);
});

test("a bad rivet and its cause are keyed before the last answer came", async ({ page, demo }) => {
  await page.goto(demo.url + "/rows/" + id("row 3") + "?hole=43");
  await expect(page.locator("#in-hand")).toContainText("cleaned");
  // Three keys in one go, so that the second and third come while the first is under way.
  await page.evaluate(() => {
    for (const key of [" ", "b", "2"]) document.body.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
  });
  await expect(page.locator("#in-hand")).toContainText("Hole 44 bad, 1 scrapped");
  await expect(page.locator(".head")).toContainText("42 set · 1 open · 2 bad");
});

test("the bay is not closed with a cleco inside", async ({ page, demo }) => {
  // The rows inside are finished first: clecos out, the bad holes cleaned, the rest set.
  const several = async (row, what, holes) => {
    await page.goto(demo.url + "/rows/" + row);
    await page.getByLabel("Holes", { exact: true }).fill(holes);
    await page.locator("select[name=operation]").selectOption(what);
    await page.getByRole("button", { name: "It is done at all of them" }).click();
    await expect(page.locator(".undo")).toContainText("Undo " + what);
  };
  await several(id("row 3"), "clean", "17");
  await several(id("row 3"), "set", "17, 43-76, 78-84");
  await several(id("row 4"), "unpin", "43, 46, 49, 52, 55, 58, 61, 64, 67, 70, 73, 76, 79, 82");
  await several(id("row 4"), "clean", "9");
  await several(id("row 4"), "set", "9, 43-84");
  await expect(page.locator(".board")).toContainText("none is missed");

  const sheet = demo.url + "/bays/" + bay;
  await page.goto(sheet);
  const form = page.locator("form", { hasText: "Or something else" });
  const count = async (thing, number) => {
    await form.locator("select[name=thing]").selectOption(thing);
    await form.getByLabel("How many").fill(number);
    await form.getByLabel("Counted by").fill("helper");
    await form.getByRole("button", { name: "Counted out" }).click();
  };
  await count("tool", "three");
  await expect(page.locator(".problem")).toContainText("how many?");
  await expect(form.getByLabel("How many")).toHaveValue("three");
  await count("tool", "3");
  await count("cleco 1/8", "57");
  for (const task of ["control rod guides", "wires for the tail light", "primer touched up"]) {
    const line = page.locator(".tasks li", { hasText: task });
    if (!(await line.getByLabel("by", { exact: true }).isVisible())) await page.getByText("One by one, or why it need not be done").click();
    await line.getByLabel("by", { exact: true }).fill("builder");
    await line.getByRole("button", { name: "Done" }).click();
    await expect(page.locator(".tasks s", { hasText: task })).toBeVisible();
  }
  // No assembly of its own lies inside: that is asked, and said once.
  await page.locator("section[aria-labelledby=where]").getByLabel("Said by").fill("builder");
  await page.getByRole("button", { name: "Keep it" }).click();
  // What its assembly has beside it lies outside, and the kept holes can still be reached.
  const near = page.locator(".undecided input");
  await expect(page.locator(".undecided").first()).toContainText("row 5, top skin lap (25–48 to be set)");
  for (const box of await near.all()) await box.check();
  await page.locator("form.ticked").getByLabel("Done by").fill("builder");
  await page.getByRole("button", { name: "These are done" }).click();
  await expect(page.locator(".undecided")).toHaveCount(0);
  await expect(page.locator("section[aria-labelledby=where]")).toContainText("row 5, top skin lap (25–48 to be set): outside, builder");
  await page.locator("input[type=file]").setInputFiles({ name: "not-a-picture.jpg", mimeType: "image/jpeg", buffer: Buffer.from("GIF89a, says its name") });
  await page.getByRole("button", { name: "Keep the photo" }).click();
  await expect(page.locator(".problem")).toContainText("neither a JPEG nor a PNG");
  await page.locator("input[type=file]").setInputFiles({ name: "bay.png", mimeType: "image/png", buffer: picture() });
  await page.getByLabel("What it shows").fill("looking aft");
  await page.getByRole("button", { name: "Keep the photo" }).click();
  await expect(page.getByRole("img", { name: "looking aft" })).toBeVisible();
  await page.locator("section[aria-labelledby=access] summary").click();
  await page.locator("section[aria-labelledby=access]").getByLabel(/How is it reached/).fill("hatch at frame 3");
  await page.getByLabel("Answered by").fill("builder");
  await page.getByRole("button", { name: "Keep the answer" }).click();
  await expect(page.locator(".evidence")).toContainText("hatch at frame 3 (builder)");

  await page.goto(demo.url + "/holds/" + id("close boom"));
  await expect(page.locator(".decide")).toContainText("Not yet");
  await expect(page.locator(".evidence")).toContainText("cleco 1/8: 58 counted in, 57 out, 1 still inside");
  await expect(page.getByRole("button", { name: "Release and sign" })).toHaveCount(0);
  await page.getByRole("link", { name: "to what lies inside" }).first().click();
  await count("cleco 1/8", "1");
  await expect(page.locator(".evidence")).toContainText("all that was counted in is counted out");
  await page.goto(demo.url + "/holds/" + id("close boom"));
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await page.getByRole("button", { name: /record it/ }).click();
  await expect(page.locator(".decide")).toContainText("Done");
  await page.goto(demo.url + "/rows/" + id("row 4") + "?hole=50");
  await page.keyboard.press("Space");
  await expect(page.locator(".in-hand .problem")).toContainText("the boom bay is closed");
  await page.goto(demo.url + "/assemblies/" + id("tail boom") + "/record");
  await expect(page.locator(".record-sheet")).toContainText("cleco 1/8: 58 in, 58 out");

  // Something was forgotten: it is opened again, and counting and release begin anew.
  await page.goto(sheet);
  await page.getByText("Open it again").first().click();
  await page.getByLabel("What is drilled out or cut for it").fill("row 5, holes 1–48");
  await page.getByRole("button", { name: "Open it again" }).click();
  await expect(page.locator(".problem").first()).toContainText("why is it opened?");
  await expect(page.getByLabel("What is drilled out or cut for it")).toHaveValue("row 5, holes 1–48");
  await page.getByLabel("Why?").fill("a guide is missing");
  await page.getByRole("button", { name: "Open it again" }).click();
  await expect(page.locator(".opened")).toContainText("a guide is missing; drilled out: row 5, holes 1–48");
  await expect(page.locator(".evidence")).toContainText("nobody counted what was brought in");
  await page.goto(demo.url + "/holds/" + id("close boom"));
  await expect(page.locator(".releases")).toContainText("spent; opened again since");
  await expect(page.locator(".decide")).toContainText("Not yet");
});

test("a new row, from its layout to its first rivet, by keyboard", async ({ page, demo }) => {
  await page.goto(demo.url);
  await page.keyboard.press("h");
  await page.getByRole("link", { name: "Rows", exact: true }).click();
  await page.getByRole("link", { name: "Rudder" }).click();
  await page.getByLabel("Which row is it?").fill("row 1, rudder skin");
  await layers(page, [["aluminium", "0.5 mm", "dimpled"], ["aluminium", "0.8 mm", "plain"]]);
  await page.getByLabel("Diameter").fill("3/32");
  await page.locator("select[name=head]").selectOption("flush");
  await page.getByRole("button", { name: "Lay it out" }).click();
  await expect(page.getByRole("alert").first()).toBeVisible();
  await expect(page.getByLabel("Diameter")).toHaveValue("3/32");
  await byFigures(page, { count: "6", pitch: "25", first: "10" });
  await page.getByRole("button", { name: "Lay it out" }).click();
  await expect(page.locator(".facts")).toContainText("a gap that the eye does not see");
  for (let i = 1; i <= 6; i++) {
    await page.keyboard.press("d");
    if (i === 1) { // its layers are dimpled: it is deburred and formed before it is cleaned
      await page.keyboard.press("c");
      await expect(page.locator(".in-hand .problem")).toContainText("hole 1 is not dimpled yet");
      await page.waitForTimeout(200); // what is refused empties the line of keys
    }
    for (const key of ["u", "f", "c"]) await page.keyboard.press(key);
    if (i < 6) await page.keyboard.press("ArrowRight");
  }
  await expect(page.locator(".head")).toContainText("6 cleaned");
  await page.keyboard.press("Space");
  await expect(page.locator(".in-hand .problem")).toContainText("the hold “Rivet row 1, rudder skin” is not released");

  await page.getByRole("link", { name: "Rivet row 1, rudder skin" }).first().click();
  const made = page.locator(".evidence li", { hasText: "made ready" });
  for (const what of ["dimpled or countersunk where the layers are", "taken apart", "deburred on both faces", "chips cleared", "primed where wanted", "refitted"]) await made.getByLabel(what).check();
  await made.getByLabel("by", { exact: true }).fill("builder");
  await made.getByRole("button", { name: "These are done" }).click();
  await page.getByRole("button", { name: "All that stay open are marked" }).click();
  await expect(page.locator(".decide")).toContainText("Stop");
  await expect(page.locator(".evidence")).toContainText("holes 1–6: a layer does not lie close on the one under it");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.getByRole("alert")).toHaveCount(4);
  await page.getByLabel(/Who answered/).fill("kit maker");
  await page.getByLabel("What did they say?").fill("dimple both layers; these six may stay");
  await page.getByLabel("When?").fill("today");
  await page.getByLabel(/Where is the answer kept/).fill("mail in the binder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await expect(page.locator(".decide")).toContainText("Released");
  await page.goto(demo.url + "/rows");
  await page.getByRole("link", { name: /row 1, rudder skin/ }).click();
  await inHand(page, 1);
  await page.keyboard.press("Space");
  await inHand(page, 2);
  await page.goto(demo.url + "/assemblies/" + id("rudder") + "/record");
  await expect(page.locator(".disposition")).toContainText("these six may stay");
});

test("a slip in two taps, and its lesson where it would be made again", async ({ page, demo }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(demo.url + "/rows/" + id("row 3") + "?hole=43");
  await page.locator(".slip-tap summary").first().click();
  await page.getByRole("button", { name: "wrong hole or edge" }).click();
  await expect(page.getByRole("status")).toContainText("The slip is logged");
  await expect(page).toHaveURL(new RegExp(id("row 3")));
  await page.getByRole("link", { name: /What did it cost/ }).click();
  const slip = page.locator(".slip-card").first();
  await slip.getByLabel("Time lost").fill("a while");
  await slip.getByLabel(/The lesson/).fill("Count from frame 0, not from the edge.");
  await slip.getByRole("button", { name: "Keep it" }).click();
  await expect(slip.getByRole("alert")).toContainText("minutes or hours");
  await expect(slip.getByLabel(/The lesson/)).toHaveValue("Count from frame 0, not from the edge.");
  await slip.getByLabel("Time lost").fill("1:15");
  await slip.getByRole("button", { name: "Keep it" }).click();
  await expect(slip.locator(".lesson")).toContainText("Count from frame 0");
  await page.goto(demo.url + "/holds/" + holdOf("aileron rib"));
  await expect(page.locator(".lessons")).toContainText("Count from frame 0");
});

test("nothing is lost when the connection drops while riveting", async ({ page, demo, context }) => {
  await page.goto(demo.url + "/rows/" + id("row 3") + "?hole=43");
  await context.setOffline(true);
  await page.keyboard.press("Space");
  await expect(page.locator("#waiting")).toContainText("1 entry waits in this phone");
  await inHand(page, 44);
  await context.setOffline(false);
  await expect(page.locator("#waiting")).toBeHidden();
  await expect(page.locator(".head")).toContainText("42 set");
  await inHand(page, 44);
});

test("holes of final size: one that sticks makes the row match-drilled", async ({ page, demo }) => {
  await page.goto(demo.url + "/assemblies/" + id("rudder") + "/rows/new");
  await page.getByLabel("Which row is it?").fill("row 2, supplied");
  await layers(page, [["aluminium", "0.5 mm", "plain"], ["aluminium", "0.8 mm", "plain"]]);
  await page.getByLabel("Diameter").fill("3.2 mm");
  await byFigures(page, { length: "200", first: "10", last: "10", pitch: "30" });
  await page.locator("select[name=sizing]").selectOption("final size as supplied");
  await page.getByLabel(/try every nth/).fill("3");
  await page.getByRole("button", { name: "Lay it out" }).click();
  await expect(page.locator(".head")).toContainText("7 holes, 7 sized · final size as supplied");
  await expect(page.locator(".try")).toContainText("Drop-through test: 1, 4, 7");
  await page.keyboard.press("y");
  await expect(page.locator(".try")).toContainText("Drop-through test: 4, 7");
  for (let i = 2; i < 4; i++) await page.keyboard.press("ArrowRight");
  await inHand(page, 4);
  await page.keyboard.press("n");
  await expect(page.locator(".head")).toContainText("7 pilot · match-drilled");
  await expect(page.locator(".try")).toHaveCount(0);
  await expect(page.locator(".undo")).toContainText("Nothing to undo");
});

test("pin holes first, measured again, then all", async ({ page, demo }) => {
  await page.goto(demo.url + "/assemblies/" + id("main spar right") + "/usual/main-spar");
  await page.locator('input[name="0.take"]').check();
  for (const [i, x] of ["450", "3000", "6200"].entries()) await page.locator(`input[name="0.points.${i}.1"]`).fill(x);
  await page.locator('input[name="0.low.bow"]').fill("-3");
  await page.locator('input[name="0.high.bow"]').fill("3");
  await page.getByLabel(/in two holds/).check();
  await page.getByRole("button", { name: "Begin the setup" }).click();
  await page.locator("select[name=instrument]").selectOption({ label: "600 mm rule" });
  const read = async () => {
    for (const text of ["15", "15.5", "15"]) {
      const id = await page.locator("form.reading input[name=id]").inputValue();
      await page.locator("#text").fill(text);
      await page.locator("#text").press("Enter");
      await expect(page.locator(`form.reading input[name=id][value="${id}"]`)).toHaveCount(0);
    }
  };
  await read();
  await page.goto(demo.url + "/holds");
  await page.getByRole("link", { name: /All holes/ }).click();
  await expect(page.locator(".decide")).toContainText("Not yet");
  await expect(page.locator(".evidence")).toContainText("comes first");
  await page.getByRole("link", { name: "to that hold" }).click();
  await expect(page.locator(".head")).toContainText("pin holes only");
  await page.getByLabel("Released by").fill("builder");
  await page.getByRole("button", { name: "Release and sign" }).click();
  await page.getByRole("button", { name: /record it/ }).click();
  await page.getByRole("button", { name: /once more/ }).click();
  await page.locator(".checks > a", { hasText: "after the step" }).click();
  await read();
  await page.goto(demo.url + "/holds");
  await page.getByRole("link", { name: /All holes/ }).click();
  await expect(page.locator(".decide")).toContainText("Ready");
});

test("a notice finds the parts that it names, the deepest first", async ({ page, demo }) => {
  await page.goto(demo.url);
  await page.keyboard.press("p");
  await page.getByText("Write a part down").click();
  const form = page.locator("form", { hasText: "Number in the plans" });
  await form.getByRole("button", { name: "Write it down" }).click();
  await expect(form.getByRole("alert").first()).toContainText("what is it?");
  await form.getByLabel("Number in the plans").fill("S2-55-7");
  await form.getByLabel("What it is").fill("hinge bracket");
  await form.getByLabel("Lot").fill("3301");
  await form.getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator(".part-list")).toContainText("hinge bracket");
  await page.getByText("A notice has come").click();
  await page.getByLabel("What is it about?").fill("Lots 3301 and 2207");
  await page.getByLabel("Lots", { exact: true }).fill("3301, 2207");
  await page.getByRole("button", { name: "Find what is affected" }).click();
  const notice = page.locator(".notice", { hasText: "Lots 3301 and 2207" });
  await expect(notice.locator(".affected > li")).toHaveText([/aileron rib 3, right.*fitted loose.*affected/s, /aileron rib 3, left.*fitted loose.*affected/s, /boom stringer, spare.*on the shelf.*unknown: look/s, /hinge bracket.*on the shelf.*affected/s]);
  // What nobody knows is looked at, and what was found stays with it.
  const spare = notice.locator("li", { hasText: "boom stringer, spare" });
  await expect(spare).toContainText("unknown: look");
  await spare.getByText("What the inspection found").click();
  await spare.getByRole("button", { name: "Keep it" }).click();
  await expect(spare.getByRole("alert").first()).toContainText("affected or not?");
  await spare.getByLabel("not affected").check();
  await spare.getByLabel("What was found").fill("the stamp reads 2120");
  await spare.getByLabel("Looked at by").fill("builder");
  await spare.getByRole("button", { name: "Keep it" }).click();
  await expect(spare).toContainText("not affected the stamp reads 2120");
});
