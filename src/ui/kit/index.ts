export { AccountMenu, useTheme } from './accountmenu';
export { Dialog, NameDialog } from './dialog';
export { Flag, FlagCounts, type FlagKind, FlagLabel } from './flags';
export { Boat, Mark, type OwnIcon } from './icons';
export { Menu } from './menu';
export { NumField } from './numfield';
export { switchTheme, THEME_COOKIE } from './theme';
export { Toasts } from './toast';
export { spareText, Waterline } from './waterline';
