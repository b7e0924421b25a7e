// Pages that cannot be fetched are answered in words instead of by the browser's own page. Nothing is kept: what was done is elsewhere.
const PAGE = `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Not reached · Scaphos</title>
<style>
body { background: #f4edda; color: #14283a; margin: 0; min-height: 100vh; display: grid; place-items: center; font: 15px/1.5 system-ui, sans-serif }
@media (prefers-color-scheme: dark) { body { background: #12222c; color: #ece2c8 } }
main { max-width: 44ch; padding: 2rem; border: 1px dashed currentColor }
h1 { font-size: 1.2rem; margin: 0 0 .5rem } button { font: inherit; padding: .3rem .9rem; margin-top: .75rem }
</style>
<main><h1>Scaphos cannot be reached</h1>
The server does not answer, or there is no network. What you did is kept in this browser, and sent when it is back.
<br><button onclick="location.reload()">Try again</button> <button onclick="history.back()">Back</button></main>`;
self.addEventListener('install', (e) => {
  self.skipWaiting();
  // everything but pages goes past this file, where the browser can be told so: it need not be started for a picture
  e.addRoutes?.({ condition: { not: { requestMode: 'navigate' } }, source: 'network' }).catch(() => undefined);
});
self.addEventListener('activate', (e) => e.waitUntil(self.clients.claim()));
self.addEventListener('fetch', (e) => {
  if (e.request.mode !== 'navigate') return;
  const inWords = () => new Response(PAGE, { status: 503, headers: { 'content-type': 'text/html; charset=utf-8' } });
  e.respondWith(fetch(e.request).catch(inWords));
});
