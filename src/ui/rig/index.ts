export { RigView } from './rigview';
