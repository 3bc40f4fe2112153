// photo: a picture that goes to a form of its own, made smaller first.
import { small } from './picture.js'
import { freshID, limit, me } from './queue.js'

const say = key => document.body.dataset[key]

export const photo = () => ({
  message: '', tone: '',
  async send(event) {
    const form = event.target, fields = new FormData(form), file = fields.get('photo')
    fields.set('id', form.dataset.id || (form.dataset.id = freshID()))
    fields.set('device_at', String(Date.now()))
    this.tone = ''
    this.message = say('sending')
    if (file && file.size) fields.set('photo', await small(file), 'photo.jpg')
    else fields.delete('photo')
    try {
      const headers = { Accept: 'application/json', 'X-Vespers-Person': me() }
      const response = await fetch(form.getAttribute('action'), { method: 'POST', body: fields, headers, signal: limit(60000) })
      const body = await response.json().catch(() => ({}))
      if (response.ok) { location.assign(body.next); location.reload(); return }
      if (response.status < 500) delete form.dataset.id
      this.tone = 'bad'
      this.message = body.error || say('waiting')
    } catch {
      this.tone = 'wait'
      this.message = say('photowait')
    }
  },
})
