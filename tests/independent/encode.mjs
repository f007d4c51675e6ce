// Writes a FIT file with an encoder from npm (@markw65/fit-file-writer): half an hour with a known course of values.
import { createRequire } from "node:module";
import fs from "node:fs";
const require = createRequire(process.argv[3] + "/");
const { FitWriter } = require("@markw65/fit-file-writer");
const writer = new FitWriter();
const begin = Date.UTC(2027, 2, 14, 7, 0, 0);
const at = (second) => writer.time(new Date(begin + 1000 * second));
writer.writeMessage("file_id", { type: "activity", manufacturer: "development", product: 1, time_created: at(0) }, null, true);
for (let s = 0; s < 1800; ++s)
  writer.writeMessage("record", {
    timestamp: at(s),
    power: 150 + (s % 100),
    heart_rate: 120 + Math.floor(s / 60),
    cadence: 80 + (s % 7),
    distance: 9.5 * s,
  });
writer.writeMessage("lap", { timestamp: at(1799), start_time: at(0), total_elapsed_time: 1800, total_timer_time: 1800 }, null, true);
const out = writer.finish();
fs.writeFileSync(process.argv[2], Buffer.from(out.buffer, out.byteOffset, out.byteLength));
