export { StockView } from './stockview';
