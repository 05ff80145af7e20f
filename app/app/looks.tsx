export { Lookbook as default } from '../src/looks/Lookbook';
