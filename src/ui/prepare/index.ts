export { PrepareView } from './prepareview';
