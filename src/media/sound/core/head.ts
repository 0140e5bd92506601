/** What the head of a file of this medium tells, enough for a row of a list. */
export interface SoundHead {
  readonly sort: 'sound';
  readonly codec: string;
  readonly seconds?: number | undefined;
  readonly rate?: number | undefined;
  readonly channels?: number | undefined;
  readonly bits?: number | undefined;
}
