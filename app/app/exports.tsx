import { exports } from '../src/screens/screens';

export default exports.Screen;
