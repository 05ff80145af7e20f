export { Shelf as default } from '../src/shelf/Shelf';
