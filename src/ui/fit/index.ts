export { FitView } from './fitview';
