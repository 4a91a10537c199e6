import { asLine } from '../text.ts';
import { template } from './code.ts';

/** A word that no POSIX shell changes, unquoted (POSIX.1-2017, Shell Command Language, sections 2.2 and 2.6). */
const plain = /^[A-Za-z0-9_./:@%+,][A-Za-z0-9_./:@%+,=-]*$/;

/** POSIX shell: a text is one word, in single quotes where it has to be (section 2.2.2). */
export const shell = template<'shell'>((text) =>
  plain.test(text) ? text : `'${asLine(text).replaceAll("'", "'\\''")}'`,
);

/** A remark up to the end of its line. It is harmless in every language whose remarks begin with "#". */
const harmless = (text: string): string =>
  asLine(text)
    .replace(/[^\p{L}\p{N} .,:;()[\]/@+|-]/gu, ' ')
    .slice(0, 200);
export const shellRemark = (text: string) => shell`# ${template<'shell'>(harmless)`${text}`}`;

/** Characters that PowerShell takes for a single quotation mark (about_Quoting_Rules; from memory). */
const quotes = /['\u2018\u2019\u201a\u201b]/g;

/** PowerShell: a text is a literal string, or a bare word where it is nothing else. */
export const powershell = template<'powershell'>((text) =>
  /^[A-Za-z][A-Za-z0-9_.:/-]*$|^\d+(?:\.\d+){3}$/.test(text)
    ? text
    : `'${asLine(text).replace(quotes, '$&$&')}'`,
);
export const powershellRemark = (text: string) => powershell`# ${template<'powershell'>(harmless)`${text}`}`;

/** Names and addresses as they are; anything else of a text gives way to "-". For files whose values have no quotation. */
const bare = (text: string): string => asLine(text).replace(/[^A-Za-z0-9_.:/%-]/g, '-');

/** nftables (nft(8)): names, addresses, and texts in double quotes, which have no way to hold one themselves. */
export const nft = template<'nft'>((text) => (/^[A-Za-z0-9_.:/-]+$/.test(text) ? text : `"${bare(text)}"`));
export const nftRemark = (text: string) => nft`# ${template<'nft'>(harmless)`${text}`}`;

/** dnsmasq.conf (dnsmasq(8)): values between commas. */
export const dnsmasqConf = template<'dnsmasq'>(bare);
export const dnsmasqRemark = (text: string) => dnsmasqConf`# ${template<'dnsmasq'>(harmless)`${text}`}`;

/** A file of names for addresses (hosts(5)): names have letters, digits and "-" (RFC 1123 section 2.1). */
export const hostsFile = template<'hosts'>(bare);
