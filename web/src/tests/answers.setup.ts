/** Before all tests: ask the core for what it answers for the demo machine, so that what is drawn in tests is real. */
import { execFileSync } from "node:child_process";
import { mkdirSync, writeFileSync } from "node:fs";

export default function setup() {
  const answers = execFileSync("../.venv/bin/python", ["../tools/answer.py"], { maxBuffer: 64e6 });
  mkdirSync("../var/tests", { recursive: true });
  writeFileSync("../var/tests/answers.json", answers);
}
