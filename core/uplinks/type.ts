import { parseAddress, type Address } from '../net/address.ts';
import type { Prefix } from '../net/prefix.ts';
import type { Finding } from '../site/finding.ts';
import type { Line } from '../site/model.ts';
import type { Result } from '../result.ts';
import type { Entry, StepDraft } from '../runsheet/step.ts';
import type { Worked } from '../worked/worked.ts';
import type { SettingField } from './field.ts';
import type { UplinkSettings, UplinkTypeName } from './settings.ts';

/** Reads a field of this type's settings; what cannot be read is noted as a finding on that field. */
export interface FieldReader {
  read: <T>(
    key: string,
    label: string,
    text: string,
    parse: (text: string) => Result<T>,
    needed: boolean,
  ) => T | undefined;
  readAll: <T>(
    key: string,
    label: string,
    texts: readonly string[],
    parse: (text: string) => Result<T>,
  ) => T[];
}

/** What a WAN type knows of the router's WAN port before anything is plugged in. */
export interface WanPort {
  readonly address: Address | undefined;
  /** Settings key where the address stands. */
  readonly addressKey: string;
  readonly prefix: Prefix | undefined;
  readonly gateway: Address | undefined;
  readonly resolvers: readonly Address[];
  readonly resolversOffered: boolean;
  /** The provider translates, whatever the address looks like. */
  readonly carrierNat?: boolean;
  /** Largest packet that such a line carries where nobody typed another; 1500 if left out. */
  readonly largestBytes?: number;
  /** Bytes that the type puts around each packet on the wire; none if left out. */
  readonly wrappingBytes?: number;
}

/** What a line that gives its values by itself leaves open. */
export const givenByLine = {
  prefix: undefined,
  gateway: undefined,
  resolvers: [],
  resolversOffered: true,
} as const;

/** The same, with the address that is expected of it. */
export const expectedOfLine = (
  settings: { readonly expectedAddress: string },
  reader: FieldReader,
): Omit<WanPort, 'carrierNat' | 'largestBytes' | 'wrappingBytes'> => ({
  address: reader.read('expectedAddress', 'Address expected', settings.expectedAddress, parseAddress, false),
  addressKey: 'expectedAddress',
  ...givenByLine,
});

/** A WAN type: everything Netter knows about one way of getting a line. One folder each. */
export interface UplinkType<Name extends UplinkTypeName = UplinkTypeName> {
  readonly name: Name;
  readonly title: string;
  /** When this is the type, in one sentence. */
  readonly says: string;
  readonly fields: readonly SettingField[];
  /** Reads the settings. */
  readonly wanPort: (settings: UplinkSettings[Name], reader: FieldReader) => WanPort;
  /** What is wrong with this line, beyond fields that cannot be read. `at` is the pointer of the settings. */
  readonly check: (line: Line, at: string) => Finding[];
  /** The arithmetic behind a field. */
  readonly workings: (line: Line, key: string) => Worked[];
  /** What to enter on the router, and what to look at afterwards. */
  readonly entries: (line: Line) => Entry[];
  /** Steps before the line is brought up; `uplink:…` waits for them. */
  readonly steps?: (line: Line) => StepDraft[];
  readonly bringUp: (
    line: Line,
  ) => Pick<StepDraft, 'proof' | 'ifNot' | 'lowSeconds' | 'highSeconds' | 'cautions'>;
}
