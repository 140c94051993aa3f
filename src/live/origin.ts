/**
 * Where projects' live pages are served. `{project}` stands for the project's id, `{port}` for the server's port.
 * Set with `STEADY_LIVE_ORIGIN`; without `{project}` all projects share the origin, one at a time.
 */
export const DEFAULT_LIVE_ORIGIN = 'http://{project}.localhost:{port}'

export const liveOriginTemplate = (): string => process.env.STEADY_LIVE_ORIGIN || DEFAULT_LIVE_ORIGIN

export function liveOriginFor(template: string, project: string, port: string): string {
  return new URL(template.replace('{project}', project).replace('{port}', port)).origin
}

/** Whether a request's `Host` is that of a live page. */
export function isLiveHost(host: string, template: string): boolean {
  const pattern = new URL(template.replace('{project}', 'xprojectx').replace('{port}', '80')).hostname
  const name = host.replace(/:\d+$/, '').toLowerCase()
  if (!pattern.includes('xprojectx')) return name === pattern
  const [before, after] = pattern.split('xprojectx')
  return name.startsWith(before) && name.endsWith(after) && name.length > before.length + after.length
}
