// Keypads: digits for a PIN, and for a reading with its band.

export const pin = () => ({
  press(event) {
    const key = event.currentTarget.dataset.key, field = this.$refs.pin
    field.value = key === 'back' ? field.value.slice(0, -1) : field.value + key
  },
})

export const keypad = () => ({
  // What was typed was refused: said beside the field, and of it.
  get invalid() { return this.tone === 'bad' ? 'true' : 'false' },
  press(event) {
    const key = event.currentTarget.dataset.key, field = this.$refs.typed
    field.value = key === 'back' ? field.value.slice(0, -1) : field.value + key
    this.show()
  },
  // show puts the typed value on the band that the server drew.
  show() {
    const band = this.$refs.band
    if (!band) return
    const marker = this.$refs.marker, value = parseFloat(this.$refs.typed.value.replace(',', '.'))
    if (Number.isNaN(value)) { marker.setAttribute('visibility', 'hidden'); return }
    const low = Number(band.dataset.low), high = Number(band.dataset.high)
    const x = Math.min(1000, Math.max(0, 1000 * (value - low) / (high - low)))
    marker.setAttribute('transform', `translate(${x} 0)`)
    marker.setAttribute('visibility', 'visible')
  },
})
