import { spawn } from 'node:child_process'

/** Opens an address in the person's browser, where there is a desktop; nothing where there is none. */
export function openBrowser(address: string): void {
  const { platform, env } = process
  const command =
    platform === 'darwin'
      ? ['open', address]
      : platform === 'win32'
        ? ['cmd', '/c', 'start', '', address]
        : env.DISPLAY || env.WAYLAND_DISPLAY
          ? ['xdg-open', address]
          : null
  if (!command || !process.stdout.isTTY) return
  spawn(command[0], command.slice(1), { stdio: 'ignore', detached: true })
    .on('error', () => {})
    .unref()
}
