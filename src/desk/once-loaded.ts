type Called<F> = F extends (...given: infer Given) => infer Answer ? (...given: Given) => Promise<Awaited<Answer>> : never

/** The methods of a service whose code comes later; each gives a promise. */
export type OnceLoaded<Service> = {
  readonly [Name in keyof Service as Service[Name] extends (...given: never[]) => unknown ? Name : never]: Called<Service[Name]>
}

/** A service of which a call waits for `load`, which may be called often. */
export function onceLoaded<Service extends object>(load: () => Promise<Service>): OnceLoaded<Service> {
  const known = new Map<PropertyKey, unknown>()
  return new Proxy({} as OnceLoaded<Service>, {
    get(target, name) {
      // It is no promise, and what marks an object stands on this one.
      if (typeof name === 'symbol' || name === 'then') return Reflect.get(target, name) as unknown
      // The same function each time, as of any object.
      if (!known.has(name))
        known.set(name, async (...given: unknown[]) => {
          const service = await load()
          return (Reflect.get(service, name) as (...given: unknown[]) => unknown).apply(service, given)
        })
      return known.get(name)
    },
  })
}
