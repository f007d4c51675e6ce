// Reads a FIT workout with fit-file-parser from npm and prints its steps: duration type and value, target type,
// target value, and the span of the target.
import { createRequire } from "node:module";
import fs from "node:fs";
const require = createRequire(process.argv[3] + "/");
const found = require("fit-file-parser");
const Parser = found.default?.default ?? found.default ?? found;
new Parser({ force: true, mode: "list" }).parse(fs.readFileSync(process.argv[2]), (error, data) => {
  if (error) {
    console.error(String(error));
    process.exit(1);
  }
  console.log(JSON.stringify({ type: data.file_ids[0].type, workout: data.workout, steps: data.messages.workout_step }));
});
