/* What a text of a plan becomes in another language: one value of it, and nothing more. One file for a family of languages. */
export { Code, template, type Part, type Template } from './code.ts';
export { fileName, tableCell, writeTable } from './files.ts';
export { configurationValue, ini, iniRemark, iniRow } from './ini.ts';
export { calendarText, markdown } from './markup.ts';
export * from './shell.ts';
