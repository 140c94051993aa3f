/** The number after `--name` on the command line, or `fallback`. */
export function option(name: string, fallback: number): number {
  const at = process.argv.indexOf(name)
  return at < 0 ? fallback : Number(process.argv[at + 1])
}

/** Whether `--name` stands on the command line. */
export const flag = (name: string): boolean => process.argv.includes(`--${name}`)

/** The folder a proof is pointed at. Ends the process with the usage when there is none. */
export function folder(command: string, options: string): string {
  const dir = process.argv[2]
  if (dir && !dir.startsWith('--')) return dir
  console.error(`Usage: npm run ${command} -- DIR ${options} [--seed S] [--json]`)
  process.exit(2)
}
