// Starts the published application with demo data in a folder of its own, on any free port.
import { spawn } from "node:child_process";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

const app = fileURLToPath(
  new URL("../../.build/app/Idrum.Web.dll", import.meta.url),
);

export async function startServer({ data, port = 0 } = {}) {
  const folder = data ?? mkdtempSync(join(tmpdir(), "idrum-browser-"));
  // The demo jobs are worked once, before all tests, and copied.
  const made = process.env.IDRUM_DEMO_DATA;
  if (!data && made) cpSync(made, folder, { recursive: true });
  const child = spawn(
    "dotnet",
    [app, "--demo", "--port", String(port), "--data", folder],
    {
      stdio: ["ignore", "pipe", "inherit"],
    },
  );
  const url = await new Promise((resolve, reject) => {
    let said = "";
    child.stdout.on("data", (chunk) => {
      said += chunk;
      const ready = said.match(/ready at (http:\/\/[^/]+)\//);
      if (ready) resolve(ready[1]);
    });
    child.on("exit", (code) =>
      reject(new Error(`The server ended with ${code}: ${said}`)),
    );
  });
  return {
    url,
    folder,
    kill: () =>
      new Promise((done) => {
        child.once("exit", done);
        child.kill("SIGKILL");
      }),
    /** Ends it as a service is ended, so that its database is whole without its journal. */
    end: () =>
      new Promise((done) => {
        child.once("exit", done);
        child.kill("SIGTERM");
      }),
    async stop() {
      child.kill("SIGKILL");
      rmSync(folder, {
        recursive: true,
        force: true,
        maxRetries: 5,
        retryDelay: 100,
      });
    },
  };
}
