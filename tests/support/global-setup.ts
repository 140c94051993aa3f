import type { TestProject } from 'vitest/node'
import { startApp } from './server'

declare module 'vitest' {
  export interface ProvidedContext {
    appUrl: string
  }
}

/** One application for all stories. */
export default async function setup(project: TestProject): Promise<() => void> {
  const app = await startApp()
  project.provide('appUrl', app.url)
  return () => app.stop()
}
