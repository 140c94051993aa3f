export { compareApplied, decide, type Applied, type Contest, type Reason } from './cascade'
export { NO_EFFECT_CODES, whyNoEffect, type EffectFacts, type NoEffect, type Remedy } from './no-effect'
export { importLayer, LayerOrder } from './layers'
