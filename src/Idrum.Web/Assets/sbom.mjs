// What ships, as a CycloneDX list, from the lock files: node sbom.mjs VERSION > sbom.json
import { readFileSync } from "node:fs";

const read = (path) =>
  JSON.parse(readFileSync(new URL(`../../../${path}`, import.meta.url)));
const [, , version = "0"] = process.argv;
const left = ["System.Drawing.Common", "Microsoft.Win32.SystemEvents"];
const components = new Map();
const add = (type, name, of, hash, purl) =>
  components.set(purl, {
    type,
    name,
    version: of,
    purl,
    "bom-ref": purl,
    ...(hash ? { hashes: [hash] } : {}),
  });
const hex = (base64) => Buffer.from(base64, "base64").toString("hex");
const locks = read("src/Idrum.Web/packages.lock.json").dependencies;
for (const [name, { resolved, contentHash }] of Object.values(locks).flatMap(
  Object.entries,
))
  if (resolved && !left.includes(name))
    add(
      "library",
      name,
      resolved,
      contentHash && { alg: "SHA-512", content: hex(contentHash) },
      `pkg:nuget/${name}@${resolved}`,
    );
const npm = read("package-lock.json").packages;
for (const name of Object.keys(read("package.json").dependencies)) {
  const { version: of, integrity } = npm[`node_modules/${name}`];
  add(
    "library",
    name,
    of,
    integrity?.startsWith("sha512-") && {
      alg: "SHA-512",
      content: hex(integrity.slice(7)),
    },
    `pkg:npm/${name.replace("@", "%40")}@${of}`,
  );
}
console.log(
  JSON.stringify(
    {
      bomFormat: "CycloneDX",
      specVersion: "1.6",
      version: 1,
      metadata: {
        component: {
          type: "application",
          name: "idrum",
          version,
          "bom-ref": "idrum",
        },
      },
      components: [...components.values()].sort((a, b) =>
        a.purl.localeCompare(b.purl),
      ),
    },
    null,
    2,
  ),
);
