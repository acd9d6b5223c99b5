// What a careful reader would call bad setting, on the page as it stands: texts that lie on one another, texts that are cut off, and a
// stop or comma alone at the start of a line, and texts that hardly stand out from what is under them. Gives one sentence a fault.
// What is folded away is looked at, too.
for (const fold of document.querySelectorAll('details.fold')) fold.open = true
const shown = (e) => e.checkVisibility({ opacityProperty: true, visibilityProperty: true })
const off = '.visually-hidden, .v-overlay-container, noscript, script, style, title, desc, option'
const clipped = new Map()
/** The part of the page through which an element is seen, and whether what lies beyond it can be scrolled to. */
function through(e) {
  if (!e) return { left: -1e6, top: -1e6, right: 1e6, bottom: 1e6, scrolls: true }
  const known = clipped.get(e)
  if (known) return known
  const style = getComputedStyle(e)
  const outer = through(style.position === 'fixed' ? null : e.parentElement)
  let here = outer
  if (style.overflowX !== 'visible' || style.overflowY !== 'visible') {
    const box = e.getBoundingClientRect()
    here = {
      left: Math.max(outer.left, box.left),
      top: Math.max(outer.top, box.top),
      right: Math.min(outer.right, box.right),
      bottom: Math.min(outer.bottom, box.bottom),
      scrolls: ['auto', 'scroll'].includes(style.overflowX),
    }
  }
  clipped.set(e, here)
  return here
}
const floats = (e) => {
  for (let a = e; a; a = a.parentElement) if (['fixed', 'sticky'].includes(getComputedStyle(a).position)) return true
  return false
}
/** Whether something opaque lies between two texts where they meet: a sheet over a list is no fault. */
function covered(a, b) {
  const x = (Math.max(a.left, b.left) + Math.min(a.right, b.right)) / 2
  const y = (Math.max(a.top, b.top) + Math.min(a.bottom, b.bottom)) / 2
  const stack = document.elementsFromPoint(x, y)
  const [i, k] = [stack.indexOf(a.e), stack.indexOf(b.e)]
  // What is not in the stack at all lies outside the window, or takes no clicks.
  if (i < 0 || k < 0) return stack.length > 0 && (i < 0) !== (k < 0)
  return stack.slice(Math.min(i, k), Math.max(i, k)).some((e) => !/, 0\)$|transparent/.test(getComputedStyle(e).backgroundColor))
}
/** A pixel for those who listen instead of looking. */
const unseen = (e) => {
  for (let a = e; a; a = a.parentElement) {
    const box = a.getBoundingClientRect()
    if (box.width <= 1 && box.height <= 1 && getComputedStyle(a).overflow === 'hidden') return true
  }
  return false
}
/** Relative luminance of a colour as WCAG 2.2 has it; null where it is see-through or written otherwise. */
const luminance = (colour) => {
  const parts = /^rgba?\(([\d.]+), ([\d.]+), ([\d.]+)(?:, ([\d.]+))?\)$/.exec(colour)
  if (!parts || (parts[4] ?? 1) < 1) return null
  const linear = (v) => (v / 255 <= 0.04045 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4)
  return 0.2126 * linear(parts[1]) + 0.7152 * linear(parts[2]) + 0.0722 * linear(parts[3])
}
/** How far a text stands out from the nearest solid ground; what is faint on purpose, because it cannot be pressed now, is no fault. */
function contrast(e) {
  const ink = luminance(getComputedStyle(e).color)
  for (let a = e; a; a = a.parentElement) {
    const { backgroundColor, backgroundImage, opacity } = getComputedStyle(a)
    if (opacity < 1 || backgroundImage !== 'none' || a.matches(':disabled')) return null
    if (/, 0\)$|transparent/.test(backgroundColor)) continue
    const ground = luminance(backgroundColor)
    return ink === null || ground === null ? null : (Math.max(ink, ground) + 0.05) / (Math.min(ink, ground) + 0.05)
  }
  return null
}
const texts = []
const faults = []
const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
while (walk.nextNode()) {
  const said = walk.currentNode.data.trim()
  const e = walk.currentNode.parentElement
  if (!said || !e || e.closest(off) || !shown(e) || unseen(e)) continue
  const range = document.createRange()
  range.selectNodeContents(walk.currentNode)
  const clip = through(e)
  for (const box of range.getClientRects()) {
    if (box.width < 1 || box.height < 1) continue
    const left = Math.max(box.left, clip.left)
    const right = Math.min(box.right, clip.right)
    const top = Math.max(box.top, clip.top)
    const bottom = Math.min(box.bottom, clip.bottom)
    const seen = right > left && bottom > top
    if (seen && !clip.scrolls && (box.right > clip.right + 2 || box.left < clip.left - 2)) faults.push(`“${said.slice(0, 40)}” is cut off`)
    if (!seen) continue
    if (/^[.,;:!?)”’]+$/.test(said)) {
      const block = e.closest('p, li, td, div, section, h1, h2, h3') ?? e
      if (box.left <= block.getBoundingClientRect().left + 3) faults.push(`“${said}” stands alone at the start of a line`)
    }
    const stands = e instanceof SVGElement ? null : contrast(e)
    if (stands !== null && stands < 4.4) faults.push(`“${said.slice(0, 40)}” hardly stands out: ${stands.toFixed(1)}`)
    texts.push({ e, said, left, right, top, bottom, floats: floats(e) })
  }
}
texts.sort((a, b) => a.top - b.top)
for (const [i, a] of texts.entries()) {
  for (const b of texts.slice(i + 1)) {
    if (b.top >= a.bottom) break
    // What stays in sight lies over what is scrolled under it.
    if (a.floats !== b.floats || a.e === b.e) continue
    const wide = Math.min(a.right, b.right) - Math.max(a.left, b.left)
    const high = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top)
    if (wide <= 2 || high <= 2) continue
    const area = (t) => (t.right - t.left) * (t.bottom - t.top)
    if (covered(a, b)) continue
    if (wide * high > 0.2 * Math.min(area(a), area(b)))
      faults.push(`“${a.said.slice(0, 30)}” lies on “${b.said.slice(0, 30)}”`)
  }
}
return [...new Set(faults)]
