export { DeliverView } from './deliverview';
