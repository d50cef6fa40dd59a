export { ShowTray as Tray } from './show-tray';
