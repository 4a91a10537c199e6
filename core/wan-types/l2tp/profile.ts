import { dialled } from '../dialled.ts';

export const profile = dialled('L2TP (outdated)');
