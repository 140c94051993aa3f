import { lazy, type ComponentType, type LazyExoticComponent } from 'react'

const loads: (() => Promise<unknown>)[] = []

/** A component whose code is loaded when it is shown first, or with {@link loadBehind}. */
export function later<Props extends object>(load: () => Promise<ComponentType<Props>>): LazyExoticComponent<ComponentType<Props>> {
  loads.push(load)
  return lazy(async () => ({ default: await load() }))
}

/** Loads what a press asks for: so it is there at once, and also where the server is not any more. */
export async function loadBehind(): Promise<void> {
  await Promise.allSettled(loads.map((load) => load()))
}
