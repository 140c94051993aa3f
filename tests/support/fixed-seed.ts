import fc from 'fast-check'

// The gate runs the same cases each time; `SEED=random` looks for new ones, and a number runs one that failed again.
const { SEED = '1861' } = process.env
if (SEED !== 'random') fc.configureGlobal({ ...fc.readConfigureGlobal(), seed: Number(SEED) })
