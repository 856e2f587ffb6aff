// Lays out every JSON file of the content: one object a line up to 140 columns. With --check it only says which are not.
import { readFileSync, readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import stringify from "json-stringify-pretty-compact";

const files = (folder) =>
  readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory()
      ? files(join(folder, entry.name))
      : entry.name.endsWith(".json")
        ? [join(folder, entry.name)]
        : [],
  );

const check = process.argv.includes("--check");
let wrong = 0;
for (const file of files(import.meta.dirname)) {
  const text = readFileSync(file, "utf8");
  const laid =
    stringify(JSON.parse(text), { maxLength: 140, indent: 2 }) + "\n";
  if (text !== laid) {
    wrong++;
    if (check) console.error(`not laid out: ${file}`);
    else writeFileSync(file, laid);
  }
}
process.exit(check && wrong > 0 ? 1 : 0);
