import { lookbook } from '../src/screens/screens';

export default lookbook.Screen;
