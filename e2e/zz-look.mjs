import { chromium } from "@playwright/test";
import config from "../playwright.config.mjs";
import { id, start } from "./workshop.mjs";
const demo = await start("demo");
const browser = await chromium.launch(config.use.launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: "light" });
const shot = async (n, full = false) => { await page.evaluate(() => document.fonts.ready); await page.screenshot({ path: `/tmp/look-${n}.png`, fullPage: full }); };
for (const p of ["setups", "holds", "rows"]) { await page.goto(demo.url + "/" + p); await shot(p); }
await page.setViewportSize({ width: 390, height: 844 });
await page.goto(demo.url + "/rows/" + id("row 5") + "?hole=25");
await shot("row-phone");
await page.goto(demo.url + "/holds"); await shot("holds-phone");
await browser.close();
process.exit(0);
