export { YardView } from './yardview';
