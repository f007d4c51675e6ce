// Reads a calendar with ical.js and prints its events: uid, first day, day after the last, summary, description.
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";

const [file, modules] = process.argv.slice(2);
const ICAL = createRequire(modules + "/node_modules/")("ical.js");
const calendar = new ICAL.Component(ICAL.parse(readFileSync(file, "utf8")));
const events = calendar.getAllSubcomponents("vevent").map((component) => {
  const event = new ICAL.Event(component);
  return [event.uid, event.startDate.toString(), event.endDate.toString(), event.summary, event.description ?? "",
          event.startDate.isDate];
});
console.log(JSON.stringify(events));
