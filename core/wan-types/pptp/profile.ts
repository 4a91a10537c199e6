import { dialled } from '../dialled.ts';

export const profile = dialled('PPTP (outdated)');
