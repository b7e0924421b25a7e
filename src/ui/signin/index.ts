export { SignIn } from './signin';
