/** What a codec or cipher can be told besides keys and sizes, so that its kin need no code of their own. */
export interface SettingType {
  readonly about: string;
  /** Taken where the script says nothing; must be said where undefined. */
  readonly default: number | string | undefined;
  /** Set where the value is one of some words. */
  readonly words?: readonly string[];
}

export type SettingTypes = Readonly<Record<string, SettingType>>;

/** Settings of one use, whole: defaults filled in. */
export type Settings = ReadonlyMap<string, number | string | Uint8Array>;

export const NO_SETTINGS: Settings = new Map();

export const numberSetting = (settings: Settings, name: string): number => Number(settings.get(name));
export const wordSetting = (settings: Settings, name: string): string => String(settings.get(name));
