// Serves what this device has when the shop cannot be reached: the application's own files, the page that stands in, files of acts seen.
const stamp = self.location.search;
const files = `idrum-files${stamp}`;
const carried = "idrum-photos";
const PATIENCE = 12_000;
const own = [
  "/app.css",
  "/theme.js",
  "/htmx.js",
  "/app.js",
  "/alpine.js",
  "/codes.js",
].map((file) => file + stamp);
const fonts = [
  "barlow-condensed-500",
  "barlow-condensed-600",
  "atkinson-next",
].map((name) => `/fonts/${name}.woff2`);

self.addEventListener("install", (event) => {
  event.waitUntil(
    caches
      .open(files)
      .then((cache) => cache.addAll([...own, ...fonts, "/icon.svg", "/away"]))
      .then(() => self.skipWaiting()),
  );
});

self.addEventListener("activate", (event) => {
  event.waitUntil(
    caches
      .keys()
      .then((names) =>
        Promise.all(
          names
            .filter((name) => name.startsWith("idrum-files") && name !== files)
            .map((name) => caches.delete(name)),
        ),
      )
      .then(() => self.clients.claim()),
  );
});

const standIn = () =>
  caches.match("/away").then((page) => page ?? Response.error());

async function pageOrStandIn(request) {
  const slow = new Promise((resolve) => setTimeout(resolve, PATIENCE, null));
  try {
    return (await Promise.race([fetch(request), slow])) ?? (await standIn());
  } catch {
    return standIn();
  }
}

async function fileOrKept(request) {
  const cache = await caches.open(carried);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request, answer.clone());
    return answer;
  } catch {
    return (await cache.match(request)) ?? Response.error();
  }
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (
    own.includes(url.pathname + url.search) ||
    fonts.includes(url.pathname) ||
    url.pathname === "/icon.svg"
  ) {
    event.respondWith(
      caches.match(request).then((kept) => kept ?? fetch(request)),
    );
  } else if (
    /^\/jobs\/[^/]+\/(files|photos)\/[0-9a-f]{64}$/.test(url.pathname)
  ) {
    event.respondWith(fileOrKept(request));
  } else if (request.mode === "navigate" || request.headers.get("HX-Request")) {
    event.respondWith(pageOrStandIn(request));
  }
});
