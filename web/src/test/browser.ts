// What the modules want of a browser, for tests that run without one.
const kept = new Map<string, string>()
const storage = {
  getItem: (key: string) => kept.get(key) ?? null,
  setItem: (key: string, value: string) => void kept.set(key, value),
  removeItem: (key: string) => void kept.delete(key),
}

/** A browser takes an address without its beginning from the page it is on. */
class PageRequest extends Request {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === 'string' ? new URL(input, 'http://127.0.0.1') : input, init)
  }
}

Object.assign(globalThis, {
  Request: PageRequest,
  localStorage: storage,
  window: globalThis,
  addEventListener: () => undefined,
  matchMedia: () => ({ matches: false }),
})
