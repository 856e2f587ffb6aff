// Starts the published application with demo data in a folder of its own, on any free port.
import { spawn } from "node:child_process";
import { randomUUID } from "node:crypto";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

// The published application; or one that is installed somewhere, with what starts it.
const [program, ...before] = process.env.IDRUM_PROGRAM?.split(" ") ?? [
  "dotnet",
  fileURLToPath(new URL("../../.build/app/Idrum.Web.dll", import.meta.url)),
];

export async function startServer({
  data,
  empty,
  years = 0,
  port = 0,
  lanPort,
} = {}) {
  const folder = data ?? mkdtempSync(join(tmpdir(), "idrum-browser-"));
  // The demo jobs are worked once, before all tests, and copied.
  const made = process.env.IDRUM_DEMO_DATA;
  if (!data && !empty && made) cpSync(made, folder, { recursive: true });
  const child = spawn(
    program,
    [
      ...before,
      ...(empty ? [] : ["--demo", "--years", String(years)]),
      // It lives for seconds: what nobody looks at is not made ready.
      "--cold",
      "--port",
      String(port),
      "--data",
      folder,
      ...(lanPort === undefined
        ? []
        : [
            "--lan",
            "127.0.0.1",
            "--lan-port",
            String(lanPort),
            "--trust-port",
            "0",
          ]),
    ],
    {
      stdio: ["ignore", "pipe", "inherit"],
      // It lives for minutes: compiling all of it a second time is half of what it would do then, and is not gained back.
      env: {
        DOTNET_TieredPGO: "0",
        DOTNET_TC_CallCountThreshold: "2000",
        ...process.env,
      },
    },
  );
  const [url, network] = await new Promise((resolve, reject) => {
    let said = "";
    child.stdout.on("data", (chunk) => {
      said += chunk;
      const ready = said.match(/ready at (http:\/\/[^/]+)\//);
      const phones = said.match(/For phones: (https:\/\/[^/]+)\//);
      if (ready && (lanPort === undefined || phones))
        resolve([ready[1], phones?.[1]]);
    });
    child.on("exit", (code) =>
      reject(new Error(`The server ended with ${code}: ${said}`)),
    );
  });
  let copies = 0;
  return {
    url,
    network,
    folder,
    /** A job of the demo once more, under a number of its own, for a test that changes it. */
    async own(number) {
      const job = await (
        await fetch(`${url}/api/v1/jobs/${number}/export`)
      ).json();
      // Under other names the hashes would not hold.
      delete job.chain;
      let text = JSON.stringify(job);
      for (const id of [job.jobId, ...job.events.map((e) => e.id)])
        text = text.replaceAll(id, randomUUID());
      // Not of the form that new jobs are numbered by: theirs go on from the highest.
      const copy = `K-${String(++copies).padStart(4, "0")}`;
      const answer = await fetch(`${url}/api/v1/jobs`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: text.replaceAll(`"${number}"`, `"${copy}"`),
      });
      if (!answer.ok) throw new Error(await answer.text());
      return copy;
    },
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

let shared;

/** One server for all test files of this worker: what a test changes there is its own copy of a job, or a new one. */
export function sharedServer() {
  shared ??= startServer().then((server) => {
    process.on("exit", () => server.stop());
    return server;
  });
  return shared;
}
