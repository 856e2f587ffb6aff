// Every command of the guide and of the repairer's part of the README is run as it stands there, in the order it stands.
import { spawn } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { expect, test } from "@playwright/test";

const app = fileURLToPath(
  new URL("../../.build/app/Idrum.Web.dll", import.meta.url),
);
const guide = fileURLToPath(new URL("../../docs/guide/", import.meta.url));

/** Commands of a page, in order. */
const commands = (page) =>
  [...readFileSync(join(guide, page), "utf8").matchAll(/```sh\n(.*?)```/gs)]
    .flatMap(([, block]) => block.split("\n"))
    .filter((line) => line.trim().length > 0);

/** Runs one: what serves is ended once it is ready, as a service is; all end well. */
function run(line, folder) {
  const [program, ...args] = line.split(/\s+/);
  expect(program, line).toBe("idrum");
  const serves = ["serve", "demo"].includes(args[0]);
  const beside = [
    // The network's ports may be taken on this machine.
    ...(args.includes("--lan")
      ? ["127.0.0.1", "--lan-port", "0", "--trust-port", "0"]
      : []),
    ...(serves && !args.includes("--port") ? ["--port", "0"] : []),
    "--data",
    join(folder, args[0] === "demo" ? "demo" : "shop"),
  ];
  return new Promise((done) => {
    const child = spawn("dotnet", [app, ...args, ...beside], { cwd: folder });
    let said = "";
    const hear = (chunk) => {
      said += chunk;
      // Once: it has more to say, and a second would meet a process that no longer listens for one.
      if (serves && /ready at/.test(said) && !child.killed)
        child.kill("SIGTERM");
    };
    child.stdout.on("data", hear);
    child.stderr.on("data", hear);
    child.on("exit", (code) => done({ code, said }));
  });
}

test("every command of the guide runs as it is written", async () => {
  const folder = mkdtempSync(join(tmpdir(), "idrum-guide-"));
  try {
    // A shop is begun on the first day; all else is done to it.
    const pages = [
      "first-day.md",
      ...readdirSync(guide).filter(
        (name) => name.endsWith(".md") && name !== "first-day.md",
      ),
    ];
    let ran = 0;
    for (const page of pages) {
      for (const line of commands(page)) {
        const { code, said } = await run(line, folder);
        expect(`${page}: ${line}: ${code} ${code === 0 ? "" : said}`).toBe(
          `${page}: ${line}: 0 `,
        );
        if (/^idrum (serve|demo)/.test(line)) expect(said).toMatch(/ready at/);
        if (/^idrum backup/.test(line))
          expect(said).toMatch(/Backed up and checked/);
        if (/^idrum restore/.test(line)) expect(said).toMatch(/Brought back/);
        ran++;
      }
    }
    expect(ran).toBeGreaterThanOrEqual(6);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
