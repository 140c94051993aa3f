/** Why no live page can be shown, with what to do about it. */
export interface LiveFault {
  readonly title: string
  readonly detail: string
  readonly remedy: string
  /** Where the address of a development server that runs already is asked for: those that were found. */
  readonly addresses?: readonly string[]
}

export class LiveFaultError extends Error {
  override readonly name = 'LiveFaultError'
  constructor(readonly fault: LiveFault) {
    super(`${fault.title} ${fault.detail}`)
  }
}
