// Unsent answers wait here and are sent again with the same id, oldest first.
// Each belongs to the person who gave it: nobody else's session sends it. What the
// server refused stays, named, until somebody has seen it.
import { unpacked } from './picture.js'

const key = 'vespers.unsent'

// Ids must work on a plain http address in the yard, where crypto.randomUUID
// is not offered.
export const freshID = () => Array.from(crypto.getRandomValues(new Uint8Array(16)), b => b.toString(16).padStart(2, '0')).join('')

// me is who is signed in on this page.
export const me = () => document.body.dataset.person || ''

// Where the device's storage is full or forbidden, this page still holds them.
let held = null
let refusedToKeep = false

// storageFails reports whether answers are held by this page only.
export const storageFails = () => refusedToKeep

export function all() {
  if (held) return held
  try { return JSON.parse(localStorage.getItem(key)) || [] } catch { return [] }
}

function keep(list) {
  try {
    localStorage.setItem(key, JSON.stringify(list))
    held = null
    refusedToKeep = false
  } catch {
    held = list
    refusedToKeep = list.length > 0
  }
  document.dispatchEvent(new Event('vespers:queue'))
}

export const waitingOf = person => all().filter(item => item.person === person && !item.refused)
export const refusedOf = person => all().filter(item => item.person === person && item.refused)
export const othersWaiting = person => all().filter(item => item.person !== person && !item.refused)

// add puts an answer behind the others. A later answer to the same point takes the
// place of one that was not sent; where that one may have arrived, it corrects it.
export function add(item) {
  const list = all()
  const before = list.findIndex(old => old.about === item.about && old.person === item.person && !old.refused)
  if (before >= 0 && item.about) {
    const old = list[before]
    if (old.tried) {
      item.corrects = old.corrects || old.id
      item.fields = item.fields.filter(([name]) => name !== 'supersedes').concat([['supersedes', item.corrects]])
    }
    list[before] = item
  } else {
    list.push(item)
  }
  keep(list)
}

export const drop = id => keep(all().filter(item => item.id !== id))

const change = (id, values) => keep(all().map(item => item.id === id ? { ...item, ...values } : item))

// bodyOf is what is sent: fields, and the picture that waited with them.
function bodyOf(item) {
  if (!item.picture) return new URLSearchParams(item.fields)
  const body = new FormData()
  for (const [name, value] of item.fields) body.append(name, value)
  body.append('photo', unpacked(item.picture), 'photo.jpg')
  return body
}

async function post(item) {
  const headers = { Accept: 'application/json', 'X-Vespers-Person': item.person }
  const response = await fetch(item.url, { method: 'POST', body: bodyOf(item), headers, signal: limit(item.picture ? 60000 : 15000) })
  const body = await response.json().catch(() => ({}))
  return { status: response.status, body, id: item.id }
}

// limit ends a request that takes too long, in browsers without
// AbortSignal.timeout too.
export function limit(ms) {
  const control = new AbortController()
  setTimeout(() => control.abort(), ms)
  return control.signal
}

// notArrived: the answer that was to be corrected never came to the server.
const notArrived = 'outing.not_the_last_answer'

let sending = false
// flush sends what waits of whoever is signed in. An answer that the server has
// taken is done with; one it refused is kept apart; one it could not hear, could
// not save, or will not take from this person stays.
export async function flush() {
  if (sending) return null
  sending = true
  let last = null
  try {
    for (const item of waitingOf(me())) {
      change(item.id, { tried: true })
      let reply = await post(item)
      if (item.corrects && reply.body.rule === notArrived) {
        const fields = item.fields.filter(([name]) => name !== 'supersedes')
        reply = await post({ ...item, fields })
      }
      if (reply.status === 401 || reply.status >= 500 || reply.body.waits) return reply
      if (reply.status >= 200 && reply.status < 300) drop(item.id)
      else change(item.id, { refused: [reply.body.error, reply.body.detail].filter(Boolean).join(' ') || String(reply.status), choices: reply.body.choices, picture: undefined })
      last = { ...reply, what: item.what }
    }
  } catch {
    last = { status: 0, body: {} }
  } finally {
    sending = false
  }
  return last
}
