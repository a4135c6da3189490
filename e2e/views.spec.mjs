import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./workshop.mjs";

const views = {
  airframe: "/",
  "second airframe": "/airframes/campion-c1-demo",
  assembly: "/assemblies/tailplane-demo",
  "setup, complete": "/setups/tailplane-on-rails-demo",
  "setup, a station": "/setups/tailplane-on-rails-demo?check=tailplane-on-rails-demo-check-1&spot=4",
  "setup, the rails": "/setups/tailplane-on-rails-demo?check=tailplane-on-rails-demo-check-0&spot=3",
  template: "/assemblies/fin-demo/templates/fin",
  "setup, fin": "/setups/fin-upright-demo?spot=3",
  "setup, mount": "/setups/mount-pads-demo",
  "setup, spar": "/setups/spar-left-demo",
  "setup, foreplane": "/setups/foreplane-demo?spot=1",
  "setup, brackets": "/setups/tailplane-brackets-demo",
  "setup, a rib's hand": "/setups/aileron-rib-demo?spot=3",
  "a check's own sheet": "/setups/tailplane-on-rails-demo/checks/tailplane-on-rails-demo-check-1",
  "one more check": "/setups/fin-upright-demo/checks/new",
  "one more check, its form": "/setups/fin-upright-demo/checks/new?kind=square",
  joins: "/joins",
  "join, a suspect": "/setups/tailplane-join-demo?spot=6",
  "join, unseen": "/setups/foreplane-join-demo",
  "join, several surfaces": "/setups/fin-tail-join-demo",
  "join, its form": "/assemblies/tailplane-demo/templates/join",
  "join, one more reading": "/setups/foreplane-join-demo/checks/foreplane-join-demo-check-0?type=distance",
  setups: "/setups",
  holds: "/holds",
  hold: "/holds/tailplane-on-rails-demo-hold",
  "hold, rivets": "/holds/boom-rivets-demo",
  "hold, closing": "/holds/boom-close-demo",
  "hold, its form": "/assemblies/tail-boom-demo/holds/new?template=boom&number=1",
  rows: "/rows",
  "row, kept hole": "/rows/boom-row-3?hole=77",
  "row, blind": "/rows/boom-row-6?hole=3",
  "row, its plan": "/rows/boom-row-3/plan",
  "row, its form": "/assemblies/tail-boom-demo/rows/new",
  "order of setting": "/assemblies/tail-boom-demo/rows",
  bay: "/bays/boom-close-demo-bay",
  stores: "/stores",
  slips: "/slips",
  record: "/assemblies/tail-boom-demo/record",
  log: "/log?check=yes",
  instruments: "/instruments",
  "nothing there": "/setups/none",
};

// One page and one scheme a test: axe takes seconds on a busy machine, and a
// test that walks every view would run out of its time.
for (const scheme of ["light", "dark"]) {
  for (const [name, path] of Object.entries(views)) {
    test(`no serious finding by axe: ${name}, ${scheme}`, async ({ page, shown }) => {
      await page.emulateMedia({ colorScheme: scheme });
      await page.goto(shown.url + path);
      await page.evaluate(() => document.querySelectorAll("details").forEach((details) => (details.open = true)));
      // The dark sheet differs by its colours alone.
      const axe = new AxeBuilder({ page });
      const found = await (scheme === "light" ? axe.withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa", "best-practice"]) : axe.withRules(["color-contrast"])).analyze();
      const serious = found.violations.filter((v) => v.impact === "serious" || v.impact === "critical");
      expect(serious.map((v) => `${v.id} ${v.nodes.map((n) => n.target).join(", ")}`)).toEqual([]);
    });
  }
}

for (const width of [360, 390, 820, 1600]) {
  test(`no sideways scrolling at ${width} px`, async ({ page, shown }) => {
    await page.setViewportSize({ width, height: 844 });
    for (const [name, path] of Object.entries(views)) {
      await page.goto(shown.url + path);
      await page.evaluate(() => document.querySelectorAll("details").forEach((details) => (details.open = true)));
      expect(await page.evaluate(() => document.documentElement.scrollWidth), name).toBeLessThanOrEqual(width);
    }
  });
}

test("targets are large enough for a gloved finger", async ({ page, shown }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  for (const [name, path] of Object.entries(views)) {
    await page.goto(shown.url + path);
    const small = await page.locator("button:visible, select:visible, input:visible:not([type=checkbox]), .tabs a, .points a, .errand, .choices a, .parts > ol > li > a, .row-list a, .walk a").evaluateAll((all) => all.filter((e) => e.getBoundingClientRect().height < 43.5).map((e) => e.outerHTML.slice(0, 80)));
    expect(small, name).toEqual([]);
  }
});

test("the dark sheet is chosen and stays", async ({ page, demo }) => {
  await page.goto(demo.url + "/log");
  await page.getByRole("button", { name: "Dark sheet" }).click();
  await expect(page).toHaveURL(demo.url + "/log");
  await expect(page.locator("html")).toHaveClass("sheet-dark");
  await page.getByRole("button", { name: "Light sheet" }).click();
  await expect(page.locator("html")).toHaveClass("sheet-light");
});
