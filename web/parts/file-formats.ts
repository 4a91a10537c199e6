/** What writes files comes when one is saved: a sheet opens without it. */
export { folderFormats, siteFormats } from '../../core/index.ts';
