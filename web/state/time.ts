import { dayOf } from '../../core/index.ts';
import dayjs from 'dayjs';

/** "10:42", or "24 Nov 10:42" for another day. */
export function clockText(iso: string): string {
  const time = dayjs(iso);
  return time.isSame(dayjs(), 'day') ? time.format('HH:mm') : time.format('D MMM HH:mm');
}

export const dayText = (iso: string): string => dayjs(iso).format('D MMM YYYY HH:mm');

/** "45 s", "2 min", "2 to 10 min". */
export function spanText(lowSeconds: number, highSeconds: number): string {
  const unit = highSeconds >= 90 ? 60 : 1;
  const name = unit === 60 ? 'min' : 's';
  const low = unit === 60 ? Math.max(1, Math.round(lowSeconds / 60)) : lowSeconds;
  const high = Math.ceil(highSeconds / unit);
  return low === high ? `${high} ${name}` : `${low} to ${high} ${name}`;
}

/** The day it is here, as "2027-03-01". */
/** A day without its time: 3 Mar 2026. */
export const dayOnly = (iso: string): string => dayjs(iso).format('D MMM YYYY');
export const today = (): string => dayOf(new Date());
