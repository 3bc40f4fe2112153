// chime sounds two tones; false where the browser lets no page sound by itself.
export function chime() {
  try {
    const audio = new AudioContext()
    if (audio.state !== 'running') { audio.close(); return false }
    for (const [at, hertz] of [[0, 660], [0.35, 880]]) {
      const tone = audio.createOscillator(), loud = audio.createGain()
      tone.frequency.value = hertz
      loud.gain.setValueAtTime(0.25, audio.currentTime + at)
      loud.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + at + 0.4)
      tone.connect(loud).connect(audio.destination)
      tone.start(audio.currentTime + at)
      tone.stop(audio.currentTime + at + 0.4)
    }
    return true
  } catch { return false }
}
