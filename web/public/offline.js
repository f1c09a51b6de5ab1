// A device that Orexis is installed on shows what to do where the computer does not answer. Nothing
// else is kept here: no practice, no page of the application.
const KEPT = 'orexis-offline-1';
const PAGE = '/offline.html';

self.addEventListener('install', (event) => {
  event.waitUntil(caches.open(KEPT).then((cache) => cache.addAll([PAGE, '/offline.css'])));
  self.skipWaiting();
});

self.addEventListener('activate', (event) => {
  const old = (names) => names.filter((name) => name !== KEPT).map((name) => caches.delete(name));
  event.waitUntil(caches.keys().then((names) => Promise.all(old(names))));
});

self.addEventListener('fetch', (event) => {
  const { request } = event;
  if (request.mode === 'navigate') {
    event.respondWith(fetch(request).catch(() => caches.match(PAGE)));
  } else if (new URL(request.url).pathname === '/offline.css') {
    event.respondWith(fetch(request).catch(() => caches.match('/offline.css')));
  }
});
