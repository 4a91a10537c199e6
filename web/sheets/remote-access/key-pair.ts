/** The curve comes when a key is made: a sheet opens without it. */
export { keyPair } from '../../../core/index.ts';
