import { asLine, isLine } from '../text.ts';
import { Code, template } from './code.ts';

/**
 * Files of sections and "Key = value" lines: profiles of tunnels, units of systemd. Only what was checked to be one
 * value stands in one; see `iniRow` for texts.
 */
export const ini = template<'ini'>((text) =>
  asLine(text)
    .replace(/[#;\\]/g, ' ')
    .trim(),
);

export const iniRemark = (text: string): Code<'ini'> => new Code(`# ${asLine(text).replaceAll('\\', '/')}`);

/**
 * A value of a configuration of "Key = value" lines: undefined where it would be more than a value, or begin a
 * remark. Such a value is left out, never mended: a mended address is another address.
 */
export const configurationValue = (text: string): string | undefined =>
  usual.test(text) || (isLine(text) && !/[#\\]/.test(text) && text.trim() === text) ? text : undefined;

/** Addresses, keys, numbers and lists of them, which are told at one look. */
const usual = /^[\w/+=.:,[\]-]+(?:, [\w/+=.:,[\]-]+)*$/;

/** A line "Key = value", or the remark that it is left out. The key is a word of the file's language, never a text. */
export const iniRow = (key: string, value: string, between = ' = '): Code<'ini'> => {
  const whole = configurationValue(value);
  return whole === undefined
    ? ini`# ${key} is left out: the plan holds more than one value.`
    : new Code(`${key}${between}${whole}`);
};
