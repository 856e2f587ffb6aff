// What ships with the application, by the lock files; --check holds docs/security.md to it. Run by ./idrum shipped and ./idrum test.
import { readFileSync } from "node:fs";

const read = (path) =>
  readFileSync(new URL(`../../../${path}`, import.meta.url), "utf8");
const left = [
  ...read("src/Idrum.Web/Idrum.Web.csproj").matchAll(
    /Include="([^"]+)" ExcludeAssets="all"/g,
  ),
].map((m) => m[1]);
const locks = JSON.parse(read("src/Idrum.Web/packages.lock.json")).dependencies;
const ships = new Map();
for (const [name, { resolved }] of Object.values(locks).flatMap(Object.entries))
  if (resolved && !left.includes(name)) ships.set(name, resolved);
const own = JSON.parse(read("package.json")).dependencies;
const npm = JSON.parse(read("package-lock.json")).packages;
for (const name of Object.keys(own))
  ships.set(name, npm[`node_modules/${name}`].version);

if (!process.argv.includes("--check")) {
  for (const name of [...ships.keys()].sort())
    console.log(`${name} ${ships.get(name)}`);
  process.exit(0);
}

const table = read("docs/security.md").split("## What is shipped")[1];
const rows = [...table.matchAll(/^\| ([^|]+) \| ([^|]+) \| ([^|]+) \|$/gm)]
  .slice(1)
  .flatMap(([, names, versions, licence]) => {
    const list = versions.split(", ");
    return names.split(", ").map((name, i) => ({
      name: name.trim(),
      version: (list[i] ?? list[0]).trim(),
      licence: licence.trim(),
    }));
  });
const covers = ({ name }, other) =>
  name.endsWith("*") ? other.startsWith(name.slice(0, -1)) : name === other;
const wrong = [];
for (const [name, version] of ships) {
  const row = rows.find((r) => covers(r, name));
  if (!row)
    wrong.push(
      `${name} ${version} ships and does not stand in docs/security.md`,
    );
  else if (row.version !== version)
    wrong.push(`${name} is ${version}, docs/security.md says ${row.version}`);
  else if (!row.licence)
    wrong.push(`${name} stands in docs/security.md without its licence`);
}
for (const row of rows)
  if (
    !row.name.startsWith(".NET") &&
    row.name !== "ASP.NET Core" &&
    ![...ships.keys()].some((name) => covers(row, name))
  )
    wrong.push(`${row.name} stands in docs/security.md and does not ship`);
for (const line of wrong) console.error(line);
process.exit(wrong.length > 0 ? 1 : 0);
