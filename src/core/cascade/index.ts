export { compareApplied, decide, type Applied, type Contest, type Reason } from './cascade'
export { importLayer, LayerOrder } from './layers'
