// What is built carries its content's hash in its name: it comes straight from the store, without waking the worker for each file.
self.addEventListener('install', (event) => {
  event.addRoutes?.({
    condition: { urlPattern: new URLPattern({ pathname: '/assets/*' }) },
    source: { cacheName: `workbox-precache-v2-${self.registration.scope}` },
  });
});
