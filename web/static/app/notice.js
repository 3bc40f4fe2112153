// notice: a line on the device's lock screen, where the browser allows it and the person
// said yes. One line for all waits: the newest takes the place of the one before.
const able = () => 'Notification' in window && 'serviceWorker' in navigator && isSecureContext

// noticesMayAsk: nobody has said yes or no yet.
export const noticesMayAsk = () => able() && Notification.permission === 'default'

export async function noticesAsk() { if (noticesMayAsk()) await Notification.requestPermission() }

// notice shows a line; quietly where it only says that something has begun.
export async function notice(title, body, silent) {
  if (!able() || Notification.permission !== 'granted') return
  try {
    const lines = await navigator.serviceWorker.register(new URL('./lines.js', import.meta.url))
    const options = { body, silent, tag: 'wait', renotify: !silent, requireInteraction: !silent, lang: document.documentElement.lang }
    await lines.showNotification(title, options)
  } catch { /* the page itself says it */ }
}
