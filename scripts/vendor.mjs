// Takes the front-end files that ship with Vespers out of node_modules into
// web/static/vendor, and writes down which package and version each is from.
// A Go test compares that list with package-lock.json.
import { copyFileSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { PurgeCSS } from 'purgecss'

const files = [
  ['bulma', 'css/versions/bulma-no-helpers.min.css', 'bulma.css'],
  ['@alpinejs/csp', 'dist/cdn.min.js', 'alpine.js'],
  ['@fontsource/atkinson-hyperlegible', 'files/atkinson-hyperlegible-latin-400-normal.woff2', 'atkinson-400.woff2'],
  ['@fontsource/atkinson-hyperlegible', 'files/atkinson-hyperlegible-latin-700-normal.woff2', 'atkinson-700.woff2'],
  ['@fontsource/zilla-slab', 'files/zilla-slab-latin-700-normal.woff2', 'zilla-700.woff2'],
]
const target = 'web/static/vendor'
mkdirSync(target, { recursive: true })
// Of Bulma only what some page or script may use is kept: 34 of 473 kB, which a tablet
// would read anew for every page.
async function used(from, to) {
  const [{ css }] = await new PurgeCSS().purge({
    css: [from], content: ['web/*/templates/*.html', 'web/*/*.go', 'web/static/app/*.js', 'draw/*.go'],
    variables: true, keyframes: true, safelist: { standard: ['html', 'body', 'disabled'] },
  })
  writeFileSync(to, css)
}

const list = []
for (const [pkg, from, to] of files) {
  await (to === 'bulma.css' ? used : copyFileSync)(`node_modules/${pkg}/${from}`, `${target}/${to}`)
  const { version, license } = JSON.parse(readFileSync(`node_modules/${pkg}/package.json`, 'utf8'))
  const sha256 = createHash('sha256').update(readFileSync(`${target}/${to}`)).digest('hex')
  list.push({ file: to, package: pkg, version, license, from, sha256 })
}
// The licences lie beside what they are of. A package that carries none says in
// its package.json which it is under; the texts of those are kept in scripts.
for (const pkg of new Set(files.map(([pkg]) => pkg))) {
  const own = `node_modules/${pkg}/LICENSE`, to = pkg.replace(/^@/, '').replace('/', '-') + '.LICENSE.txt'
  copyFileSync(existsSync(own) ? own : `scripts/licences/${to}`, `${target}/${to}`)
  const sha256 = createHash('sha256').update(readFileSync(`${target}/${to}`)).digest('hex')
  list.push({ file: to, package: pkg, version: list.find(one => one.package === pkg).version, license: list.find(one => one.package === pkg).license, from: 'LICENSE', sha256 })
}
writeFileSync(`${target}/vendor.json`, JSON.stringify(list, null, 2) + '\n')
