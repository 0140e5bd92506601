import path from 'node:path';
import { refOfSpan, windowOf } from '@/core/bytes';
import { demuxerOf } from '@/media/film/node/demuxers';
import type { Probed } from '@/media/film/core/probed';
import { probe } from '@/media/film/node/probe';
import { serveBytes } from '@/platform/node/byte-server';
import { openFileSource } from '@/platform/node/file-source';
import { blobFile } from '../storage/storage';
import { UserError } from '@/platform/user-error';

/** A film that was given, at an address that ffmpeg reads. */
export interface GivenFilm {
  readonly url: string;
  readonly demuxer: string;
  readonly probed: Probed;
  close(): void;
}

/** Opens a film that was brought in. Throws UserError where it is none. */
export async function givenFilm(blob: string, name: string): Promise<GivenFilm> {
  const source = openFileSource(blobFile(blob), path.basename(name));
  try {
    const ref = refOfSpan(source, 0, source.length);
    const demuxer = demuxerOf(windowOf(ref, 0, 1024));
    if (demuxer === undefined)
      throw new UserError(
        422,
        `${name} begins like no film that is known here. Give an MP4, WebM, MKV, MOV, AVI or MPEG file.`,
      );
    const served = await serveBytes([ref]);
    const close = (): void => {
      served.close();
      source.close();
    };
    try {
      return {
        url: served.urls[0]!,
        demuxer,
        probed: await probe(served.urls[0]!, demuxer, ref.length),
        close,
      };
    } catch (error) {
      served.close();
      throw error;
    }
  } catch (error) {
    source.close();
    throw error;
  }
}
