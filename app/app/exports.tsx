import { exportList } from '../src/screens/screens';

export default exportList.Screen;
