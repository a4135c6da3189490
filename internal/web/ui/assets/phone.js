// A phone in the shop: what is entered while the laptop sleeps or the signal drops waits in this
// browser, and goes out in order, once, with what was on screen then; what others do on the same
// sheet is shown as they do it.
"use strict";

// What a page of ours says went wrong.
function saidBy(html) {
  const page = new DOMParser().parseFromString(html, "text/html");
  for (const link of page.querySelectorAll(".problem a")) link.remove();
  return page.querySelector(".failure, .problem")?.textContent.replace(/\s+/g, " ").trim();
}

// ---- What waits ----

const account = () => document.body.dataset.account;
const shop = () => document.body.dataset.shop;
const ours = (e) => !e.refused && (!e.shop || e.shop === shop()); // of the shop that this page came from
const queue = () => JSON.parse(localStorage.getItem("waiting") ?? "[]");
const keepQueue = (list) => localStorage.setItem("waiting", JSON.stringify(list));
let seen = 0; // the last entry that this page knows of, or that was taken from it
const see = (entry) => (seen = Math.max(seen, Number(entry) || 0));
const seenOf = () => see(document.body.dataset.entry);
const before = {}; // the last entry of this page about a hole or a point
let sending = false;
let cut = false; // the last try to reach the shop failed
let again = 0;

// The first reading of what is measured now begins a setup: it does not wait in the queue, and stays in its field.
const waits = (form) => form?.matches("form#operation, form.reading:not([data-sketch])");
const fieldOf = (entry, name) => entry.fields.find(([n]) => n === name)?.[1] ?? "";
const placeOf = (entry) => [entry.path, ...["number", "check", "list", "point", "field"].map((n) => fieldOf(entry, n))].join("|");
const freshID = () => crypto.randomUUID?.() ?? "10000000-1000-4000-8000-100000000000".replace(/[018]/g, (c) => (c ^ (crypto.getRandomValues(new Uint8Array(1))[0] & (15 >> (c / 4)))).toString(16));

// keepWaiting takes a submission that could not be sent; false for one that does not wait.
function keepWaiting(detail) {
  const form = detail.elt.closest?.("form") ?? detail.elt;
  const config = detail.requestConfig;
  if (!waits(form) || config.verb !== "post") {
    cut = cut || config.verb === "get";
    return false;
  }
  cut = true;
  enqueue(form, config.path, [...config.parameters.entries()]);
  return true;
}

function enqueue(form, path, fields) {
  const row = form.matches("#operation"); // form.id is its field of that name
  const entry = { path, fields: fields.map(([n, v]) => [n, String(v)]), at: Date.now(), who: account(), shop: shop(), seen: seenOf(), sheet: location.pathname + location.search };
  const place = placeOf(entry);
  if (before[place]) {
    if (row) entry.fields.push(["own", before[place]]);
    else entry.fields = entry.fields.map(([n, v]) => [n, n === "last" ? before[place] : v]);
  }
  before[place] = fieldOf(entry, "id");
  entry.what = row ? `hole ${fieldOf(entry, "number")}: ${fieldOf(entry, "do").replace("/", ", ")}` : `${one("label[for=text]")?.textContent.trim()}: ${fieldOf(entry, "text")}`;
  keepQueue([...queue(), entry]);
  if (row) walkOn(form, entry);
  else readOn(form, entry);
  showWaiting();
  next(true);
  later();
}

// walkOn goes to the next hole without the shop.
function walkOn(form, entry) {
  const number = Number(fieldOf(entry, "number"));
  one(`.row-map a.hole[href$="hole=${number}"]`)?.classList.add("waits");
  const on = ["set", "through"].includes(fieldOf(entry, "do")) ? number + 1 : number;
  for (const details of form.querySelectorAll("details[open]")) details.open = false;
  standAt(form, one(`.row-map a.hole[href$="hole=${on}"]`) ? on : number);
}

function standAt(form, number) {
  const hole = one(`.row-map a.hole[href$="hole=${number}"]`);
  if (!hole) return;
  form.elements.number.value = number;
  form.elements.id.value = freshID();
  const says = hole.getAttribute("aria-label").replace(/^hole \d+, /, "");
  const head = one("#in-hand");
  head.textContent = `Hole ${number} `;
  head.append(Object.assign(document.createElement("span"), { textContent: `${says}, when the line was cut` }));
  for (const other of document.querySelectorAll(".row-map a.hole[aria-current]")) other.removeAttribute("aria-current");
  hole.setAttribute("aria-current", "true");
  drawNear(number);
}

// drawNear shows the holes beside the one in hand, out of the map.
function drawNear(number) {
  const svg = one(".near-strip svg");
  if (!svg) return;
  for (const old of svg.querySelectorAll("a.hole, g.moved, text")) old.remove();
  const all = [...document.querySelectorAll(".row-map a.hole")];
  const here = all.findIndex((hole) => hole.getAttribute("href").endsWith(`hole=${number}`));
  const from = Math.max(0, Math.min(here - 4, all.length - 9));
  all.slice(from, from + 9).forEach((hole, i) => {
    const reach = hole.querySelector(".reach");
    const g = document.createElementNS(svg.namespaceURI, "g");
    g.setAttribute("class", "moved");
    g.setAttribute("transform", `translate(${20 + 40 * i - (Number(reach.getAttribute("x")) + 14)} ${28 - (Number(reach.getAttribute("y")) + 16)})`);
    const copy = hole.cloneNode(true);
    for (const number of copy.querySelectorAll("text")) number.remove();
    g.append(copy);
    const text = document.createElementNS(svg.namespaceURI, "text");
    text.setAttribute("class", "figure middle small");
    text.setAttribute("x", 20 + 40 * i);
    text.setAttribute("y", 58);
    text.textContent = hole.getAttribute("href").match(/hole=(\d+)$/)[1];
    svg.append(g, text);
  });
}

// readOn goes to the next point that is not read, without the shop.
function readOn(form, entry) {
  const li = form.closest("li");
  const cell = li.querySelector("a.here");
  cell.classList.add("waits");
  for (const old of cell.querySelectorAll("b, s, em")) old.remove();
  cell.append(Object.assign(document.createElement("b"), { textContent: fieldOf(entry, "text") }));
  const kind = cell.dataset.at?.split("|")[3];
  delete cell.dataset.at;
  const cells = [...document.querySelectorAll(".points a.value")];
  const on = cells.slice(cells.indexOf(cell) + 1).find((c) => c.dataset.at && (!kind || c.dataset.at.endsWith(`|${kind}`)));
  form.elements.text.value = "";
  localStorage.removeItem(readingAt(form)); // it is kept, in the queue
  form.elements.id.value = freshID();
  one("#echo").textContent = "";
  if (!on) {
    one("#echo").textContent = "No further point can be read until the line is back.";
    form.elements.text.disabled = true;
    return;
  }
  const [list, point, field] = on.dataset.at.split("|");
  const set = { list, point, field, last: "", sent: "", number: new URL(on.href).searchParams.get("spot") };
  for (const [name, value] of Object.entries(set)) if (form.elements[name]) form.elements[name].value = value;
  form.dataset.draft = form.dataset.draft.replace(/\d+$/, set.number);
  cell.classList.remove("here");
  on.classList.add("here");
  li.classList.remove("current");
  on.closest("li").classList.add("current");
  on.closest("li").append(form);
  backToLane(one("#entry")); // the drawing is of before
  one("label[for=text]").textContent = on.closest("li").querySelector(".name").textContent + " " + on.querySelector("small").textContent.trim();
  form.elements.text.focus();
}

document.addEventListener("htmx:afterRequest", (event) => event.detail.successful && see(event.detail.xhr.getResponseHeader("X-Entry")));
document.addEventListener("htmx:beforeRequest", (event) => {
  const { elt, requestConfig } = event.detail;
  const form = elt.closest("form");
  const offline = cut || !navigator.onLine || queue().some(ours);
  if (!offline) return;
  if (waits(form) && elt === form && requestConfig.verb === "post") {
    event.preventDefault();
    enqueue(form, requestConfig.path, [...requestConfig.parameters.entries()]);
  } else if (elt.matches(".walk a")) {
    event.preventDefault();
    const inHand = one("#operation");
    standAt(inHand, Number(inHand.elements.number.value) + (elt.dataset.press === "ArrowLeft" ? -1 : 1));
    next(true);
  }
});

function later() {
  clearTimeout(again);
  if (queue().some(ours)) again = setTimeout(send, 3000);
}

// send sends what waits, one by one, in order. What is refused is shown to whoever entered it, and
// what follows on it at the same place is not sent either.
async function send() {
  if (sending) return;
  sending = true;
  let went = 0;
  try {
    // One tab of this browser sends at a time.
    if (navigator.locks) await navigator.locks.request("waiting", { ifAvailable: true }, async (lock) => lock && (went = await sendAll()));
    else went = await sendAll();
  } finally {
    sending = false;
    later();
  }
  if (went && !queue().some(ours)) lookAgain();
}

async function sendAll() {
  let went = 0;
  let taken = 0; // entry of the last of them that was taken
  try {
    for (;;) {
      const entry = queue().find(ours);
      if (!entry) break;
      const id = fieldOf(entry, "id");
      const place = placeOf(entry);
      const refuse = (why) => // others may have come into the queue meanwhile, from another tab too
        keepQueue(queue().map((e) => (e.refused || placeOf(e) !== place ? e : { ...e, refused: fieldOf(e, "id") === id ? why : "not sent: the one before it there was not taken" })));
      if (entry.who && !account()) {
        showWaiting(`Sign in as ${entry.who.split("|")[1]}, and what waits in this phone goes out.`);
        return went;
      }
      if (entry.who !== account()) {
        refuse(`it was entered by ${entry.who.split("|")[1] || "someone who was not signed in"}: sign in so, or enter it anew`);
        continue;
      }
      const answer = await fetch(entry.path, { method: "POST", headers: { "HX-Request": "true", "X-Age": String(Math.max(0, Date.now() - entry.at)), "X-Shop": entry.shop ?? "", "X-Seen": String(Math.max(entry.seen ?? 0, taken)) }, body: new URLSearchParams(entry.fields), signal: AbortSignal.timeout(10000) });
      if (answer.status >= 500) throw new Error(saidBy(await answer.text()) ?? "");
      cut = false;
      if (answer.status === 421) {
        showWaiting("Another shop answers at this address. What waits goes out when its own does.");
        return went;
      }
      if (answer.status === 401) {
        showWaiting("You are signed out. Sign in, and they go out.");
        return went;
      }
      if (answer.ok) {
        taken = see(answer.headers.get("X-Entry"));
        keepQueue(queue().filter((e) => fieldOf(e, "id") !== id));
        went++;
      } else refuse(saidBy(await answer.text()) ?? "it was not taken");
      showWaiting();
    }
  } catch (error) {
    if (error.name === "TypeError" || error.name === "TimeoutError" || error.name === "AbortError") cut = true;
    showWaiting(cut ? "" : error.message);
  }
  return went;
}

// lookAgain shows the sheet in hand as it is now, unless somebody types.
function lookAgain() {
  const form = one("form#operation") ?? one("form.reading");
  showWaiting();
  if (!form || one("#text")?.value) return;
  const path = form.matches("#operation") ? `${location.pathname}?hole=${form.elements.number.value}` : `${location.pathname}?check=${form.elements.check.value}`;
  htmx.ajax("GET", path, { target: "#sheet", swap: "outerHTML" }).catch(() => {}); // it is looked at again by hand
}

function showWaiting(says) {
  const band = one("#waiting");
  const list = queue();
  band.hidden = list.length === 0;
  band.replaceChildren();
  const waiting = list.filter(ours);
  const elsewhere = list.filter((e) => !e.refused && !ours(e));
  const line = (text, inside = band, tag = "p") => inside.appendChild(Object.assign(document.createElement(tag), { textContent: text }));
  if (waiting.length) {
    line(says || `${waiting.length} ${waiting.length === 1 ? "entry waits" : "entries wait"} in this phone. ${cut || !navigator.onLine ? "The shop cannot be reached; they go out in order when it can." : "Sending."}`).className = "waiting-says";
    line(waiting.map((e) => e.what).join(" · ")).className = "waiting-what";
  }
  if (elsewhere.length) line(`${elsewhere.length} ${elsewhere.length === 1 ? "entry waits" : "entries wait"} in this phone for another shop, and go out when that one answers here: ${elsewhere.map((e) => e.what).join(" · ")}`).className = "waiting-what";
  for (const e of list.filter((e) => e.refused)) {
    const p = line("", band);
    p.className = "waiting-refused";
    p.setAttribute("role", "alert");
    line(`Not taken: ${e.what}, entered ${new Date(e.at).toTimeString().slice(0, 5)}. `, p, "b");
    p.append(e.refused + " ");
    const look = line("Look at it", p, "a");
    look.href = e.sheet;
    look.className = "button";
    const anew = line("Send it again", p, "button");
    anew.className = "button";
    anew.addEventListener("click", () => {
      keepQueue(queue().map((other) => (placeOf(other) === placeOf(e) && other.at >= e.at ? { ...other, refused: undefined } : other)));
      showWaiting();
      send();
    });
    const away = line("Let it go", p, "button");
    away.className = "button";
    away.addEventListener("click", () => (keepQueue(queue().filter((other) => fieldOf(other, "id") !== fieldOf(e, "id"))), showWaiting()));
  }
  askFacts(band, list.filter((e) => e.refused && factOf(e)));
}

// ---- What is in the metal all the same ----

// factOf is what a refused entry would say as a fact: the row, what was done, and the hole.
const factOf = (e) => {
  const row = e.path.match(/\/rows\/([^/]+)\/holes$/)?.[1];
  return row && ["set", "drill"].includes(fieldOf(e, "do")) ? [row, fieldOf(e, "do"), fieldOf(e, "number")].join("|") : "";
};
const fact = { id: freshID(), by: "", reason: "", wrong: "" }; // as typed

// askFacts offers all that was refused as facts, with one name and one reason.
function askFacts(band, list) {
  if (!list.length) return;
  const form = band.appendChild(document.createElement("form"));
  form.className = "waiting-facts";
  const p = form.appendChild(document.createElement("p"));
  p.textContent = `Is it in the metal all the same? Then ${list.length === 1 ? "it is" : "all of them are"} written down as done without release: a fact, shown at the joint for ever, and evidence for nothing.`;
  const field = (name, says) => {
    const label = form.appendChild(document.createElement("label"));
    label.textContent = says + " ";
    const input = label.appendChild(Object.assign(document.createElement("input"), { name, value: fact[name], autocomplete: "off", maxLength: 500 }));
    input.addEventListener("input", () => (fact[name] = input.value));
  };
  field("by", "Who did it?");
  field("reason", "How did it come to that?");
  form.appendChild(Object.assign(document.createElement("button"), { className: "button alarm", textContent: "It is done: write it down" }));
  const problem = form.appendChild(Object.assign(document.createElement("p"), { className: "problem", textContent: fact.wrong }));
  problem.setAttribute("role", "alert");
  problem.hidden = !fact.wrong;
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const body = new URLSearchParams({ id: fact.id, by: fact.by, reason: fact.reason });
    for (const e of list) body.append("at", factOf(e));
    try {
      const answer = await fetch(`${list[0].path.split("/rows/")[0]}/facts`, { method: "POST", headers: { "HX-Request": "true", "X-Shop": list[0].shop ?? "" }, body, signal: AbortSignal.timeout(10000) });
      fact.wrong = answer.ok ? "" : (saidBy(await answer.text()) ?? "it was not taken");
      if (answer.ok) {
        const ids = list.map((e) => fieldOf(e, "id"));
        keepQueue(queue().filter((e) => !ids.includes(fieldOf(e, "id"))));
        Object.assign(fact, { id: freshID(), by: "", reason: "" });
        lookAgain();
      }
    } catch {
      fact.wrong = "The shop cannot be reached: try again when it can.";
    }
    showWaiting();
  });
}

addEventListener("online", send);
document.addEventListener("visibilitychange", () => document.hidden || send());
document.addEventListener("DOMContentLoaded", () => (showWaiting(), send()));

// ---- What others do ----

let asking = 0; // requests for the whole sheet that are on their way
for (const [name, by] of [["htmx:beforeSend", 1], ["htmx:afterRequest", -1]]) {
  document.addEventListener(name, (event) => {
    if (event.detail.target?.id === "sheet") asking = Math.max(0, asking + by);
  });
}

let line = null;
let followed = "";

function follow() {
  const box = one("[data-live]");
  const at = box && !document.hidden ? box.dataset.live : "";
  if (at === followed && line?.readyState !== EventSource.CLOSED) return;
  line?.close();
  line = null;
  followed = at;
  if (!at) return;
  line = new EventSource(at);
  line.addEventListener("changed", (event) => merge(event.data));
  line.addEventListener("others", (event) => showOthers(JSON.parse(event.data)));
  line.addEventListener("open", () => {
    cut = false;
    send();
  });
}

// merge puts in what changed, but for the form in hand: what is typed there stays.
function merge(html) {
  if (asking || queue().some(ours)) return; // the whole sheet is on its way, or looked at again when they went out
  if (one("[data-live]")?.dataset.live !== followed) return; // it is of the sheet before this one
  const part = document.createElement("template");
  part.innerHTML = html;
  for (const id of part.content.querySelectorAll("input[name=id]")) id.value = freshID(); // the part was drawn for all who watch
  const put = (old, fresh) => {
    if (old?.contains(one("#entry"))) { // the field stands on the drawing: it stays, and the drawing is new under it
      if (fresh) old.querySelector("svg").replaceWith(fresh.querySelector("svg"));
      placeField();
      return;
    }
    if (!old || !fresh || old.contains(document.activeElement)) return;
    old.replaceWith(fresh);
    htmx.process(fresh);
  };
  const label = () => one(".near-strip a[aria-current]")?.getAttribute("aria-label");
  const hole = label();
  for (const name of ["nav.checks", ".setup > .board", ".setup > .below", ".row-map", ".near-strip"]) put(one(name), part.content.querySelector(name.replace(".setup > ", "")));
  if (hole && label() !== hole) tellOther(`Changed just now by someone else: ${label()}. Look before you go on.`);
  const fresh = [...part.content.querySelectorAll(".points > li")];
  const old = [...document.querySelectorAll(".points > li")];
  if (fresh.length !== old.length) return;
  old.forEach((li, i) => {
    if (!li.querySelector("form")) {
      put(li, fresh[i]);
      return;
    }
    const shown = (of) => of.querySelector(".value.here b, .value.here s")?.textContent;
    if (shown(fresh[i]) && shown(li) !== shown(fresh[i])) tellOther(`Someone read this point just now: ${shown(fresh[i])}.`);
    put(li.querySelector(".point"), fresh[i].querySelector(".point"));
  });
  showOthers(others);
}

let others = [];

function tellOther(text) {
  const p = one(".others");
  p.hidden = false;
  p.dataset.told = text;
  showOthers(others);
  one("#said").textContent = text;
}

function showOthers(list) {
  others = list;
  const p = one(".others");
  if (!p) return;
  for (const mark of document.querySelectorAll(".other-here")) mark.remove();
  const says = [];
  for (const who of list) {
    const [check, number] = who.at.includes("|") ? who.at.split("|") : ["", who.at];
    if (check && !one(`.setup[data-live*="${CSS.escape(check)}"]`)) continue; // at another check
    const cell = check ? one(`.points a.value[href*="spot=${number}"]`) : null;
    const point = cell?.closest("li");
    if (point) point.querySelector(".name").append(" ", Object.assign(document.createElement("i"), { className: "other-here", textContent: who.name }));
    says.push(!number ? `${who.name} looks on` : check ? `${who.name} is at ${point?.querySelector(".number")?.textContent ?? "a point"}` : `${who.name} is at hole ${number}`);
  }
  p.textContent = [p.dataset.told, ...new Set(says)].filter(Boolean).join(" · ");
  p.hidden = !p.textContent;
}

document.addEventListener("DOMContentLoaded", follow);
document.addEventListener("htmx:afterSettle", follow);
document.addEventListener("visibilitychange", follow);
addEventListener("pagehide", () => line?.close());
addEventListener("pageshow", () => ((followed = ""), follow()));

// ---- The phone as a level ----

const phoneLevel = () => localStorage.getItem("level");
const needs = () => typeof DeviceOrientationEvent !== "undefined" && typeof DeviceOrientationEvent.requestPermission === "function" && sessionStorage.getItem("feels") !== "yes";

// feel tells ten times a second how the phone's long edge lies: the mean of the last second in
// degrees, its scatter, and whether it rests. It is told null where there is no sensor.
function feel(tell) {
  let last = null;
  const samples = [];
  const heard = (event) => (last = event.beta ?? last);
  addEventListener("deviceorientation", heard);
  const started = Date.now();
  const timer = setInterval(() => {
    if (last === null) {
      if (Date.now() - started > 2500) tell(null);
      return;
    }
    samples.push(last);
    if (samples.length > 10) samples.shift();
    const mean = samples.reduce((a, b) => a + b, 0) / samples.length;
    const scatter = Math.sqrt(samples.reduce((a, b) => a + (b - mean) ** 2, 0) / samples.length);
    tell({ mean, scatter, steady: samples.length === 10 && scatter < 0.1, flat: Math.abs(mean) < 45 });
  }, 100);
  return { close: () => (clearInterval(timer), removeEventListener("deviceorientation", heard)) };
}

const written = (mean) => (Math.round(mean * 10) / 10 + 0).toFixed(1);
const noSensor = () => (isSecureContext ? "This device has no orientation sensor that a page may read." : "A page may read the sensor only over TLS: open the shop’s https address.");

function feelStrip(strip, show) {
  const turned = one("#turned")?.checked;
  const way = { pitch: "top edge toward the leading edge", "cross-level": "top edge to the left" }[strip.dataset.sense] ?? "top edge the way that is plus";
  const says = strip.querySelector(".gauge-says");
  const set = (ready) => {
    strip.classList.toggle("ready", ready);
    for (const button of strip.querySelectorAll("[data-take]")) button.disabled = !ready;
  };
  set(false);
  lines.push(feel((s) => {
    const text = s ? written(s.mean) : "–";
    strip.querySelector(".gauge-value").textContent = s ? text + "°" : "–";
    says.textContent = !s ? noSensor() : !s.flat ? "lay it on its back" : `this phone, ${turned ? way.replace("top", "bottom") : way} · ${s.steady ? "steady" : "coming to rest"}`;
    set(Boolean(s?.steady && s.flat));
    const value = turned ? written(-s?.mean) : text;
    show(s?.steady && s.flat ? { ready: true, value: value + "°", sent: JSON.stringify({ instrument: "orientation sensor of a phone", serial: phoneLevel().slice(0, 8), line: { beta: Number(s.mean.toFixed(3)), scatter: Number(s.scatter.toFixed(3)), display: text } }) } : null);
  }));
}

function levelSheet() {
  const sheet = one(".level");
  if (!sheet) return;
  const phone = sheet.dataset.phone;
  if (phone) localStorage.setItem("level", phone);
  else if (phoneLevel() && !one(".problem") && [...sheet.querySelectorAll("a")].some((a) => a.href.endsWith(phoneLevel()))) return void location.replace(`${location.pathname}?instrument=${phoneLevel()}`);
  const ask = one("[data-feel]");
  ask.hidden = !needs();
  ask.addEventListener("click", async () => {
    if ((await DeviceOrientationEvent.requestPermission()) !== "granted") return;
    sessionStorage.setItem("feels", "yes");
    ask.hidden = true;
  });
  let now = null;
  let lifted = true; // since it was taken last: a placing is one that was set down anew
  const place = one("[data-place]");
  const end = one("[data-end]");
  feel((s) => {
    now = s?.steady && s.flat ? s : null;
    if (s && !s.steady) lifted = true;
    one(".level-value").textContent = s ? `${written(s.mean)}°` : "–";
    one(".level-says").textContent = !s ? noSensor() : !s.flat ? "lay it on its back" : s.steady ? "steady" : "coming to rest";
    if (place) place.disabled = !now || !lifted;
    if (end) end.disabled = !now || !lifted;
  });
  const take = (fields, done) => {
    const field = fields.find((f) => f.value === "");
    if (!field || !now) return;
    field.value = written(now.mean);
    lifted = false;
    done(fields.filter((f) => f.value === "").length);
  };
  place?.addEventListener("click", () => take([...sheet.querySelectorAll(".level-ten [name^=spread]")], (left) => (one(".level-count").textContent = left ? `${10 - left} of ten. Lift it off, and set it down on the same spot.` : "Ten are taken: find the spread.")));
  end?.addEventListener("click", () => take([...sheet.querySelectorAll(".level-ends input:not([type=hidden])")], () => {}));
}
document.addEventListener("DOMContentLoaded", levelSheet);

// ---- Photos ----

// A photo of many points is shrunk before it is sent: a phone's own has more than anybody looks at.
const mostPoints = 12_000_000;
document.addEventListener("change", async (event) => {
  const field = event.target;
  const file = field.files?.[0];
  if (field.name !== "photo" || !file || file.size < 3_000_000) return;
  try {
    const picture = await createImageBitmap(file);
    const by = Math.min(1, Math.sqrt(mostPoints / (picture.width * picture.height)));
    const canvas = new OffscreenCanvas(Math.round(picture.width * by), Math.round(picture.height * by));
    canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
    picture.close();
    const small = await canvas.convertToBlob({ type: "image/jpeg", quality: 0.9 });
    if (small.size >= file.size) return;
    const files = new DataTransfer();
    files.items.add(new File([small], file.name.replace(/\.\w+$/, "") + ".jpg", { type: "image/jpeg" }));
    field.files = files.files;
  } catch {
    // what this browser cannot read is sent as it is, and the shop says so
  }
});
