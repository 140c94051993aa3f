/** A service whose methods wait until the project is whole: what they say and change is not to be of a part of it. */
export function whenWhole<T extends object>(service: T, whole: () => Promise<void> | null): T {
  const known = new Map<PropertyKey, unknown>()
  return new Proxy(service, {
    get(target, name) {
      const value: unknown = Reflect.get(target, name)
      if (typeof value !== 'function') return value
      // The same function each time, as of any object.
      if (!known.has(name))
        known.set(name, (...given: unknown[]) => {
          const waits = whole()
          const call = () => (value as (...given: unknown[]) => unknown).apply(target, given)
          return waits ? waits.then(call) : call()
        })
      return known.get(name)
    },
  })
}
