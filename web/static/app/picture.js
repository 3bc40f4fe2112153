// A picture is made smaller here, so that it goes through a weak link and can wait on the
// device; the server does it again for whoever cannot.
export async function small(file) {
  try {
    const picture = await createImageBitmap(file)
    const scale = Math.min(1, 1600 / Math.max(picture.width, picture.height))
    const canvas = document.createElement('canvas')
    canvas.width = Math.round(picture.width * scale)
    canvas.height = Math.round(picture.height * scale)
    canvas.getContext('2d').drawImage(picture, 0, 0, canvas.width, canvas.height)
    return await new Promise(done => canvas.toBlob(blob => done(blob || file), 'image/jpeg', 0.8))
  } catch { return file }
}

// packed is a picture as text, small, so that it waits with the answer that it belongs to;
// unpacked is the picture again.
export async function packed(file) {
  const picture = await small(file)
  return await new Promise((done, fail) => {
    const reader = new FileReader()
    reader.onload = () => done(reader.result)
    reader.onerror = fail
    reader.readAsDataURL(picture)
  })
}

export function unpacked(text) {
  const [head, body] = text.split(',')
  const bytes = Uint8Array.from(atob(body), letter => letter.charCodeAt(0))
  return new Blob([bytes], { type: head.slice('data:'.length, head.indexOf(';')) })
}
