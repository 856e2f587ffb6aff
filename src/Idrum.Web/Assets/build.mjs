// Builds wwwroot: styles, scripts, fonts cut down to the signs we show, and the licences of what is shipped.
import { execFileSync } from "node:child_process";
import {
  copyFileSync,
  mkdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
  readdirSync,
} from "node:fs";
import { createHash } from "node:crypto";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { build } from "esbuild";
import subsetFont from "subset-font";

const here = dirname(fileURLToPath(import.meta.url));
const root = join(here, "../../..");
const modules = join(root, "node_modules");
const out = join(here, "../wwwroot");

// Latin letters with accents, digits, punctuation, and the few signs of the pages.
const signs =
  Array.from({ length: 0x17f - 0x20 }, (_, i) =>
    String.fromCodePoint(0x20 + i),
  ).join("") + "–—‘’“”„…•−×÷≤≥≈→←↑↓°·✓✕½¼¾⅛Ω€µ";

const fonts = [
  [
    "@fontsource/barlow-condensed/files/barlow-condensed-latin-500-normal.woff2",
    "barlow-condensed-500",
  ],
  [
    "@fontsource/barlow-condensed/files/barlow-condensed-latin-600-normal.woff2",
    "barlow-condensed-600",
  ],
  [
    "@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2",
    "atkinson-next",
    { variationAxes: { wght: { min: 400, max: 700 } } },
  ],
];

const licences = [
  ["Barlow Condensed", "@fontsource/barlow-condensed"],
  [
    "Atkinson Hyperlegible Next",
    "@fontsource-variable/atkinson-hyperlegible-next",
  ],
  ["htmx", "htmx.org"],
  ["Alpine.js (CSP build)", "@alpinejs/csp"],
  ["Tailwind CSS", "tailwindcss"],
  ["idb", "idb"],
  ["jsQR", "jsqr"],
  ["three", "three"],
];

rmSync(out, { recursive: true, force: true });
mkdirSync(join(out, "fonts"), { recursive: true });

// The same letters for paper: a PDF carries its own, and cannot read what is packed for the web.
const paper = [
  [fonts[1][0], "barlow-condensed-600"],
  [fonts[2][0], "atkinson-400", { variationAxes: { wght: 400 } }],
  [fonts[2][0], "atkinson-700", { variationAxes: { wght: 700 } }],
];

for (const [source, name, options] of paper) {
  const font = await subsetFont(readFileSync(join(modules, source)), signs, {
    targetFormat: "truetype",
    ...options,
  });
  writeFileSync(join(out, "fonts", `${name}.ttf`), font);
}

for (const [source, name, options] of fonts) {
  const font = await subsetFont(readFileSync(join(modules, source)), signs, {
    targetFormat: "woff2",
    ...options,
  });
  writeFileSync(join(out, "fonts", `${name}.woff2`), font);
}

copyFileSync(join(modules, "htmx.org/dist/htmx.min.js"), join(out, "htmx.js"));
copyFileSync(
  join(modules, "@alpinejs/csp/dist/cdn.min.js"),
  join(out, "alpine.js"),
);
copyFileSync(join(here, "js/theme.js"), join(out, "theme.js"));
copyFileSync(join(here, "js/recorder.js"), join(out, "recorder.js"));
for (const name of ["app", "sw", "codes", "ear", "tour"]) {
  await build({
    entryPoints: [join(here, `js/${name}.js`)],
    outfile: join(out, `${name}.js`),
    bundle: true,
    minify: true,
    format: "iife",
    target: "es2022",
  });
}
copyFileSync(join(here, "icon.svg"), join(out, "icon.svg"));

let text = "Licences of the fonts and scripts that Idrum ships.\n";
for (const [name, folder] of licences) {
  const files = readdirSync(join(modules, folder)).filter((f) =>
    /^licen[cs]e/i.test(f),
  );
  const info = JSON.parse(
    readFileSync(join(modules, folder, "package.json"), "utf8"),
  );
  const body = files.length
    ? readFileSync(join(modules, folder, files[0]), "utf8").trim()
    : readFileSync(
        join(here, "licences", `${folder.replace(/\W/g, "-")}.txt`),
        "utf8",
      ).trim();
  text += `\n${"=".repeat(72)}\n${name} ${info.version} (${info.license})\n${"=".repeat(72)}\n${body}\n`;
}
writeFileSync(join(out, "licences.txt"), text);

execFileSync(
  join(modules, ".bin/tailwindcss"),
  [
    "--input",
    join(here, "app.css"),
    "--output",
    join(out, "app.css"),
    "--minify",
  ],
  { cwd: root, stdio: ["ignore", "ignore", "inherit"] },
);

// One word that changes with any asset; pages add it to addresses so that nothing stale is used.
const stamp = createHash("sha256");
for (const file of [
  "app.css",
  "app.js",
  "codes.js",
  "ear.js",
  "tour.js",
  "theme.js",
  "htmx.js",
  "alpine.js",
]) {
  stamp.update(readFileSync(join(out, file)));
}
writeFileSync(join(out, "stamp.txt"), stamp.digest("hex").slice(0, 10));
