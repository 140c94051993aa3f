/** How long is worked at a time; ms. */
const SLICE = 30

/** Lets long work rest: answers at once while its time is not over, else what `rest` says, which is whether to go on. */
export function inSlices(rest: () => Promise<boolean>): () => Promise<boolean> {
  let since = performance.now()
  return async () => {
    if (performance.now() - since <= SLICE) return true
    const goesOn = await rest()
    since = performance.now()
    return goesOn
  }
}
