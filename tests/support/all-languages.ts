import { loadLanguages } from '../../src/core/language'

// A test may read a file of any language at once.
await loadLanguages(['a.tsx'])
