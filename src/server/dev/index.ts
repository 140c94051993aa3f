export { DevPage } from './dev-page'
