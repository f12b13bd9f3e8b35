/** Where a sheet or a tune comes from, as far as its signature tells. */
export type Provenance =
  | { kind: 'unsigned' }
  | ({ kind: 'here' | 'elsewhere' } & SignedBy)
  /** `what`: which parts are not what was signed */
  | ({ kind: 'altered'; what: string[] } & SignedBy);

interface SignedBy {
  /** the public key */
  key: string;
  /** the same as people compare it: "3F2A 91B0 77C4 1D5E" */
  fingerprint: string;
  /** what this shop calls it */
  name?: string;
}

const keyWords = ({ fingerprint, name }: SignedBy): string => (name === undefined ? `key ${fingerprint}` : `${name} (key ${fingerprint})`);

/** What a tune that was brought in says of it on paper. @param at - when, ISO 8601 */
export const originWords = ({ at, provenance }: { at: string; provenance: Provenance }): string =>
  `Imported on ${at.slice(0, 10)} from an archive: ${provenanceWords(provenance)}.`;

/** What a signed sheet says of its signature, where it is not simply one of here. */
export const signedSheetWords = (provenance: Provenance): string =>
  provenance.kind === 'here' ? '' : `This sheet: ${provenanceWords(provenance)}.`;

/** The same in words, after "Sheet" or "Archive". */
export function provenanceWords(provenance: Provenance): string {
  switch (provenance.kind) {
    case 'unsigned':
      return 'not signed by any key';
    case 'here':
      return 'signed here, unaltered';
    case 'elsewhere':
      return `signed elsewhere, by ${keyWords(provenance)}, unaltered`;
    case 'altered':
      return `altered since it was signed by ${keyWords(provenance)}: ${provenance.what.join(', ')}`;
  }
}
