import type { TexelFacts } from '@/server/looking/texels';

export interface ToTexelWorker {
  readonly id: number;
  readonly url: string;
}

/** Texels of one image: four bytes each, rows from the top. */
export interface Texels {
  /** Of the whole picture, with the size of this image. */
  readonly facts: TexelFacts & { readonly at: { readonly width: number; readonly height: number } };
  readonly data: Uint8Array;
  /** 256 counts of each channel. */
  readonly counts: Uint32Array;
}

export type FromTexelWorker = { readonly id: number } & (Texels | { readonly error: string });
