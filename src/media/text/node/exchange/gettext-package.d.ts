declare module 'gettext-parser' {
  export interface GettextTranslation {
    msgctxt?: string;
    msgid?: string;
    msgid_plural?: string;
    msgstr?: string[];
    comments?: {
      translator?: string;
      reference?: string;
      extracted?: string;
      flag?: string;
      previous?: string;
    };
  }
  export interface GettextTranslations {
    charset: string;
    headers: Record<string, string>;
    translations: Record<string, Record<string, GettextTranslation>>;
  }
  export const po: {
    parse(
      input: Buffer | string,
      options?: { defaultCharset?: string; validation?: boolean },
    ): GettextTranslations;
    compile(data: GettextTranslations, options?: { foldLength?: number; sort?: boolean }): Buffer;
  };
}
