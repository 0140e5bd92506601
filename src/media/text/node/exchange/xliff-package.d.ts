declare module 'xliff' {
  export interface XliffUnit {
    source?: unknown;
    target?: unknown;
    note?: string | string[];
  }
  export interface XliffFile {
    sourceLanguage?: string;
    targetLanguage?: string;
    resources: Record<string, Record<string, XliffUnit>>;
  }
  type Answer<T> = (error: Error | null, made: T) => void;
  export function js2xliff(
    file: XliffFile,
    options: { indent?: string },
    answer?: Answer<string>,
  ): Promise<string>;
  export function jsToXliff12(
    file: XliffFile,
    options: { indent?: string },
    answer?: Answer<string>,
  ): Promise<string>;
  export function xliff2js(text: string, answer: Answer<XliffFile>): Promise<XliffFile>;
  export function xliff12ToJs(text: string, answer: Answer<XliffFile>): Promise<XliffFile>;
}
