// Serves what this device has when the shop cannot be reached: the application's own files, the page that stands in, files of acts seen.
const stamp = self.location.search;
const files = `idrum-files${stamp}`;
const carried = "idrum-photos";
const days = "idrum-days";
const KEPT_DAYS = 6;
const PATIENCE = 12_000;
const own = [
  "/app.css",
  "/theme.js",
  "/htmx.js",
  "/app.js",
  "/alpine.js",
  "/codes.js",
  "/ear.js",
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

// Under the address that was asked for, not its own: what is asked for by script is known by the address of its answer.
async function standIn() {
  const page = await caches.match("/away");
  return page
    ? new Response(page.body, { headers: page.headers })
    : Response.error();
}

async function pageOrStandIn(request) {
  const slow = new Promise((resolve) => setTimeout(resolve, PATIENCE, null));
  try {
    return (await Promise.race([fetch(request), slow])) ?? (await standIn());
  } catch {
    return standIn();
  }
}

// The day's list is kept as it was seen last, one a day; without a link it is shown with the hour it is of.
async function dayOrKept(request, url) {
  const cache = await caches.open(days);
  const slow = new Promise((resolve) => setTimeout(resolve, PATIENCE, null));
  try {
    const answer = await Promise.race([fetch(request), slow]);
    if (answer?.ok && !answer.redirected) {
      for (const old of (await cache.keys()).slice(0, -KEPT_DAYS))
        await cache.delete(old);
      await cache.put(url.pathname + url.search, answer.clone());
    }
    // Who is no longer let in does not keep where customers live.
    if (answer?.status === 401 || answer?.status === 403 || answer?.redirected)
      await caches.delete(days);
    if (answer) return answer;
  } catch {
    // No link.
  }
  const kept = await cache.match(url.pathname + url.search);
  if (!kept) return standIn();
  const text = await kept.text();
  return new Response(
    text.replace('<div id="page"', '<div id="page" data-kept="yes"'),
    { headers: kept.headers },
  );
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
  } else if (
    url.pathname === "/week/day" &&
    (request.mode === "navigate" || request.headers.get("HX-Request"))
  ) {
    event.respondWith(dayOrKept(request, url));
  } else if (url.pathname === "/shop/restoring") {
    // A piece of a page, asked for while the shop begins anew: no other stands in for it, it is asked for again.
    return;
  } else if (request.mode === "navigate" || request.headers.get("HX-Request")) {
    event.respondWith(pageOrStandIn(request));
  }
});
