import { isLiveHost } from '../live/origin'

/** What a `Host` header names (RFC 9110 §7.2): the interface, a live page, or an address that is none of ours. */
export type HostKind = 'interface' | 'live' | 'unknown'

const LOOPBACK: ReadonlySet<string> = new Set(['localhost', '127.0.0.1', '[::1]'])

/** The addresses that the server answers for. A name that somebody else lets lead here is none of them (DNS rebinding). */
export class Hosts {
  /** `others` are further names of the interface, such as that of a reverse proxy, with or without a port. */
  constructor(
    private readonly port: number,
    private readonly liveTemplate: string,
    private readonly others: readonly string[] = [],
  ) {}

  kindOf(host: string | undefined): HostKind {
    const [, name, port = '80'] = /^(\[[\da-f:]+\]|[\w.-]+)(?::(\d{1,5}))?$/i.exec(host ?? '') ?? []
    if (name === undefined) return 'unknown'
    if (isLiveHost(host!, this.liveTemplate)) return 'live'
    return (LOOPBACK.has(name.toLowerCase()) && Number(port) === this.port) ||
      this.others.includes(name.toLowerCase()) ||
      this.others.includes(host!.toLowerCase())
      ? 'interface'
      : 'unknown'
  }

  /** Whether an origin (RFC 6454) is the interface's own. */
  isInterface(origin: string): boolean {
    const parts = /^https?:\/\/([^/]+)$/.exec(origin)
    return parts !== null && this.kindOf(parts[1]) === 'interface'
  }
}
