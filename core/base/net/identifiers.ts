import { bad, ok, type Result } from '../result.ts';
import { parseAddress, type Address } from './address.ts';
import { parsePrefix, prefixAround, type Prefix } from './prefix.ts';

/* Names and numbers that are not addresses: access points, cards, users, hosts, serial numbers. */

/**
 * An access point name as it is typed: the network identifier of 3GPP TS 23.003 section 9.1.1. At most 63 octets
 * encoded, which is 62 characters with their dots.
 */
export function parseApn(text: string): Result<string> {
  const typed = text.trim();
  const wrong = (code: string, says: string): Result<string> => bad(code, says);
  if (typed === '*') return wrong('apn-wildcard', '"*" is no APN: it stands for any of them in the network.');
  if (typed.length > 62)
    return wrong('apn-length', `The APN has ${typed.length} characters; 62 are the most.`);
  if (!/^[A-Za-z0-9]([A-Za-z0-9-]*[A-Za-z0-9])?(\.[A-Za-z0-9]([A-Za-z0-9-]*[A-Za-z0-9])?)*$/.test(typed))
    return wrong(
      'apn-form',
      `"${typed}" is not an APN: parts of letters, digits and "-", separated by dots, like internet.example. A user name or a web address goes elsewhere.`,
    );
  const start = /^(rac|lac|sgsn|rnc)/i.exec(typed);
  if (start)
    return wrong(
      'apn-reserved',
      `An APN may not begin with "${start[1]}": the network keeps that for itself.`,
    );
  if (/\.gprs$/i.test(typed))
    return wrong('apn-operator', 'Leave out the end ".mnc….mcc….gprs": the network adds the operator.');
  return ok(typed);
}

/** Whether the digits end with the right check digit (Luhn; ISO/IEC 7812-1 annex B). */
export function luhnHolds(digits: string): boolean {
  const sum = [...digits].reverse().reduce((total, digit, index) => {
    const value = Number(digit) * (index % 2 === 1 ? 2 : 1);
    return total + (value > 9 ? value - 9 : value);
  }, 0);
  return sum % 10 === 0;
}

/** The number printed on a SIM card: 89, country, issuer, account and a check digit, 18 to 20 digits (ITU-T E.118). */
export function parseCardNumber(text: string): Result<string> {
  const typed = text.replace(/[\s-]/g, '').replace(/F$/i, '');
  if (!/^\d{18,20}$/.test(typed))
    return bad(
      'card-number',
      `"${text.trim()}" is not a card number: 18 to 20 digits are printed on the card.`,
    );
  if (!typed.startsWith('89'))
    return bad(
      'card-number',
      'A SIM card number begins with 89; this may be the telephone or the subscriber number.',
    );
  if (typed.length !== 20 && !luhnHolds(typed))
    return bad('card-check', `The check digit of ${typed} does not hold: a digit was read wrongly.`);
  return ok(typed);
}

/**
 * A PPP user name: 1 to 255 octets (the peer-id of RFC 1334 section 2.2.1 has one octet of length), no spaces or
 * control characters; with an "@" what follows is a realm of labels and dots (RFC 7542 section 2.2).
 */
export function parseUserName(text: string): Result<{ user: string; realm: string | undefined }> {
  const typed = text.trim();
  const wrong = (says: string) => bad('user-name', says);
  if (new TextEncoder().encode(typed).length > 255) return wrong('The user name is longer than 255 bytes.');
  if (/[\s\p{Cc}]/u.test(typed)) return wrong(`"${typed}" has a space in it: look at the paperwork again.`);
  const parts = typed.split('@');
  if (parts.length > 2) return wrong(`"${typed}" has more than one "@".`);
  const [user = '', realm] = parts;
  if (user === '') return wrong(`"${typed}" has nothing before the "@".`);
  if (realm !== undefined && !/^[\p{L}\p{N}]([\p{L}\p{N}-]*)(\.[\p{L}\p{N}-]+)*$/u.test(realm))
    return wrong(
      `What follows the "@", "${realm}", is no realm: words of letters, digits and "-", with dots between.`,
    );
  return ok({ user, realm });
}

/** A host name (RFC 1123 section 2.1) or an address. */
export function parseServer(text: string): Result<string> {
  const typed = text.trim();
  return /^[A-Za-z0-9:]([A-Za-z0-9.:-]{0,251}[A-Za-z0-9])?$/.test(typed)
    ? ok(typed)
    : bad('server', `"${typed}" is neither a name nor an address.`);
}

const nameForm = /^[\p{L}\p{N}]([\p{L}\p{N}-]{0,62})(\.[\p{L}\p{N}-]{1,63})+$/u;

/** An address, or a name that has to be looked up first. */
export function parseHost(text: string): Result<Address | undefined> {
  const typed = text.trim();
  if (nameForm.test(typed) && !/^[\d.]+$/.test(typed)) return ok(undefined);
  const parsed = parseAddress(typed);
  return parsed.ok
    ? parsed
    : bad('host', `"${typed}" is neither an address nor a name such as time.example.`);
}

/**
 * Where a tunnel is called: a name or an address, and a port behind it where it is not the usual one; an IPv6 address
 * with a port stands in brackets (RFC 3986 section 3.2.2).
 */
export function parseEndpoint(text: string): Result<{ host: string; port: number | undefined }> {
  const typed = text.trim();
  const [, bracketed, named, portText] =
    /^(?:\[([0-9A-Fa-f:.]+)\]|([^:]+))(?::(\d{1,5}))?$/.exec(typed) ?? [];
  const host = bracketed ?? named ?? typed;
  const port = portText === undefined ? undefined : Number(portText);
  const isHost = bracketed === undefined ? parseServer(host).ok : parseAddress(host).ok;
  return isHost &&
    (named !== undefined || bracketed !== undefined || parseAddress(typed).ok) &&
    (port ?? 1) >= 1 &&
    (port ?? 1) <= 65_535
    ? ok({ host, port })
    : bad(
        'endpoint',
        `"${typed}" is neither a name nor an address, with or without a port, such as vpn.example:51820.`,
      );
}

/** The address of a page (RFC 3986), plain enough to be asked for by a script. */
export function parsePage(text: string): Result<string> {
  const typed = text.trim();
  return /^https?:\/\/[A-Za-z0-9.:[\]-]+(?:[/?][A-Za-z0-9._~:/?@!$&*+,;=%-]*)?$/.test(typed)
    ? ok(typed)
    : bad('page', `"${typed}" is not the address of a page, such as https://far-end.example/address.`);
}

/** An allowed source is one address or a block. */
export function parseSource(text: string): Result<Prefix> {
  if (text.includes('/')) return parsePrefix(text);
  const host = parseAddress(text);
  if (!host.ok) return host;
  return ok(prefixAround(host.value, host.value.family === 4 ? 32 : 128));
}

const serialForm = /^[A-Za-z0-9][A-Za-z0-9./-]{3,39}$/;

export function parseSerial(text: string): Result<string> {
  const typed = text.trim();
  if (serialForm.test(typed)) return ok(typed);
  return bad(
    'serial-form',
    `"${typed}" does not look like a serial number: those have 4 to 40 letters, digits, "-", "." or "/", without spaces.`,
  );
}

/**
 * A telephone number: 3 to 15 digits (ITU-T E.164 section 6.1) in any grouping, with "+" and an extension where there
 * is one.
 */
export function parseTelephone(text: string): Result<string> {
  const typed = text.trim();
  const [number = '', extension] = typed.replace(/\s/g, ' ').split(/(?:extension|ext\.?|x|#) ?/i);
  const digits = number.replace(/\D/g, '').length;
  return /^\+?[\d ()./-]+$/.test(number) &&
    digits >= 3 &&
    digits <= 15 &&
    (extension === undefined || /^\d{1,8}$/.test(extension))
    ? ok(typed)
    : bad(
        'telephone',
        `"${typed}" is not a telephone number: 3 to 15 digits, with the country code, such as +44 1632 960001.`,
      );
}

/** An address for mail: a mailbox, "@" and a host name (RFC 5321 section 4.1.2). */
export const parseMail = (text: string): Result<string> =>
  /^[^\s@"(),:;<>[\]\\]{1,64}@[\p{L}\p{N}](?:[\p{L}\p{N}.-]{0,200}[\p{L}\p{N}])?$/u.test(text.trim()) &&
  /\.[^.]{2,}$/.test(text.trim()) &&
  !text.includes('..')
    ? ok(text.trim())
    : bad('mail', `"${text.trim()}" is not an e-mail address; write it like name@office.example.`);
