export const cookieName = 'netter-session';
const cookieSeconds = 400 * 86_400;

/** The cookie of a session: not for scripts, not for other sites, and for this very host (RFC 6265 section 5.3). */
export const sessionCookie = (token: string): string =>
  `${cookieName}=${token}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${token === '' ? 0 : cookieSeconds}`;

/** The token in a request's cookies. */
export function cookieOf(header = ''): string | undefined {
  for (const part of header.split(';')) {
    const [name, value] = part.trim().split('=', 2);
    if (name === cookieName && value) return value;
  }
  return undefined;
}
