// Works the demo jobs once; every server of the tests starts from a copy.
import { rmSync } from "node:fs";
import { startServer } from "./server.mjs";

export default async function makeDemoData() {
  const server = await startServer();
  await server.end();
  process.env.IDRUM_DEMO_DATA = server.folder;
  return () => rmSync(server.folder, { recursive: true, force: true });
}
