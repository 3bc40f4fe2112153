// The worker that lines on the lock screen hang on: a tap on one leads back to the page.
// It answers no request and keeps nothing.
self.addEventListener('notificationclick', event => {
  event.notification.close()
  event.waitUntil(self.clients.matchAll({ type: 'window', includeUncontrolled: true }).then(pages => pages[0] && pages[0].focus()))
})
