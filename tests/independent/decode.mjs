// Reads a FIT file with a decoder from npm (fit-file-parser) and prints the records Marram's tests compare.
import { createRequire } from "node:module";
import fs from "node:fs";
const require = createRequire(process.argv[3] + "/");
const found = require("fit-file-parser");
const Parser = found.default?.default ?? found.default ?? found;
const parser = new Parser({ force: true, speedUnit: "m/s", lengthUnit: "m", mode: "list" });
parser.parse(fs.readFileSync(process.argv[2]), (error, data) => {
  if (error) {
    console.error(String(error));
    process.exit(1);
  }
  const records = data.records.map((r) => [
    Math.round(new Date(r.timestamp).getTime() / 1000),
    r.power ?? null,
    r.heart_rate ?? null,
    r.cadence ?? null,
    r.distance ?? null,
  ]);
  console.log(JSON.stringify({ records, laps: data.laps.length }));
});
