import { existsSync } from "node:fs";
import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: ".",
  testMatch: "*.spec.mjs",
  globalSetup: "./demo-data.mjs",
  // Each test file starts a server of its own with demo data in a new folder.
  workers: 2,
  fullyParallel: true,
  // A whole job takes half a minute alone; a busy machine may take several times that.
  timeout: 300_000,
  expect: { timeout: 40_000 },
  forbidOnly: true,
  // What is green only at its second try has failed.
  retries: 0,
  reporter: "list",
  use: {
    browserName: "chromium",
    headless: true,
    // What is served without a link is tested in away.spec, with a browser of its own.
    serviceWorkers: "block",
    actionTimeout: 40_000,
    launchOptions: {
      executablePath: [
        "/usr/bin/chromium-headless-shell",
        "/usr/bin/chromium",
      ].find(existsSync),
      args: [
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});
