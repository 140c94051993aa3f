export { DevPage } from './dev-page'
export { DevServer } from './dev-server'
