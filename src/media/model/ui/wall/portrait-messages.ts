import type { FormPictures } from '@/server/looking/forms';

/** A model that is to be drawn: where it is, and where pictures are. */
export interface ToPortraitWorker {
  /** Address of the entry, without a slash at its end. */
  readonly url: string;
  /** Address of entries, which the places of pictures are put to. */
  readonly entries: string;
}

/** That there is a picture now; or why there is none. */
export type FromPortraitWorker = { readonly url: string; readonly error?: string };

/** Where the pictures of materials are, as the server tells it. */
export type NamedPictures = FormPictures['named'];
