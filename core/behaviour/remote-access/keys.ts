import { base64 } from '@scure/base';
import { bad, ok, type Result } from '../../base/result.ts';

/** Reads a key of 32 bytes in base 64 (RFC 4648 section 4): 43 letters and "=". */
export function parseKey(text: string): Result<Uint8Array> {
  const typed = text.trim();
  let bytes: Uint8Array | undefined;
  try {
    bytes = base64.decode(typed);
  } catch {
    bytes = undefined;
  }
  if (bytes?.length !== 32)
    return bad(
      'key',
      `"${typed.slice(0, 12)}${typed.length > 12 ? '…' : ''}" is no WireGuard key, which is 43 letters and digits, then "=": ${typed.length} here.`,
    );
  return ok(bytes);
}
