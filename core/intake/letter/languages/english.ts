import type { Lexicon } from './lexicon.ts';

/** Other words for the same, as order sheets have them. */
export const english: Lexicon = {
  language: 'English',
  common: 'the and of is are for your with to from will has this that please not we you our on at'.split(' '),
  decimalComma: false,
  words: {
    gateway: ['our side (PE)', 'provider side (PE)', 'our end (PE)', 'PE address', 'provider edge address'],
    'IP address': [
      'your side (CE)',
      'customer side (CE)',
      'your end (CE)',
      'CE address',
      'customer edge address',
    ],
    'VLAN ID': [
      'VLAN ID internet',
      'VLAN ID for internet',
      'internet VLAN ID',
      'data VLAN ID',
      'VLAN internet',
      'VLAN for internet',
      'internet VLAN',
      'data VLAN',
      'VLAN data',
      'VLAN for data',
    ],
  },
};
