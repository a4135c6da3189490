// Reads an archive by its specification (docs/archive.md) alone.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { inflateRawSync } from "node:zlib";
import { expect, start, test } from "./workshop.mjs";

function unzip(data) {
  let end = data.length - 22;
  while (data.readUInt32LE(end) !== 0x06054b50) end--;
  const members = new Map();
  for (let i = 0, at = data.readUInt32LE(end + 16); i < data.readUInt16LE(end + 10); i++) {
    const [method, packed, nameLength, extra, comment, offset] = [data.readUInt16LE(at + 10), data.readUInt32LE(at + 20), data.readUInt16LE(at + 28), data.readUInt16LE(at + 30), data.readUInt16LE(at + 32), data.readUInt32LE(at + 42)];
    const name = data.toString("utf8", at + 46, at + 46 + nameLength);
    const from = offset + 30 + data.readUInt16LE(offset + 26) + data.readUInt16LE(offset + 28);
    const raw = data.subarray(from, from + packed);
    members.set(name, method === 8 ? inflateRawSync(raw) : raw);
    at += 46 + nameLength + extra + comment;
  }
  return members;
}

const sha256 = (data) => createHash("sha256").update(data).digest("hex");
const sealed = (e) => sha256([e.prev, String(e.seq), e.id, e.at, e.kind, e.by, e.content].map((f) => `${Buffer.byteLength(f)}:${f}\n`).join(""));

test("an archive is what its specification says, whole and of one aircraft", async () => {
  const dir = mkdtempSync(join(tmpdir(), "orpine-kept-"));
  const { stop } = await start("demo", "--data", dir);
  try {
    const at = mkdtempSync(join(tmpdir(), "orpine-archive-"));
    for (const [file, aircraft] of [["whole.zip", []], ["one.zip", ["Campion C1"]]]) {
      execFileSync("bin/orpine", ["export", "--data", dir, "-o", join(at, file), ...aircraft]);
      const members = unzip(readFileSync(join(at, file)));
      const manifest = JSON.parse(members.get("orpine-archive.json"));
      expect(manifest.format).toBe("orpine.archive");
      expect(manifest.members.length).toBe(members.size - 1);
      for (const m of manifest.members) {
        expect(members.get(m.name).length).toBe(m.bytes);
        expect(sha256(members.get(m.name))).toBe(m.sha256);
      }
      const entries = members.get("journal.jsonl").toString().trimEnd().split("\n").map((l) => JSON.parse(l));
      expect(entries.length).toBe(manifest.entries);
      let before = { seq: 0, hash: "" };
      for (const e of entries) {
        expect(sealed(e)).toBe(e.hash);
        JSON.parse(e.content);
        if (manifest.scope === "workshop") expect([e.seq, e.prev]).toEqual([before.seq + 1, before.hash]);
        before = e;
      }
      expect(manifest.last).toEqual({ seq: before.seq, hash: before.hash });
      expect(manifest.aircraft.map((a) => a.name)).toEqual(aircraft.length ? ["Campion C1"] : expect.arrayContaining(["Samphire S2", "Campion C1"]));
    }
    // beside the server that runs, import says where to go
    expect(() => execFileSync("bin/orpine", ["import", "--data", dir, join(at, "one.zip")], { stdio: "pipe" })).toThrow(/Files sheet/);
  } finally {
    await stop();
  }
});
