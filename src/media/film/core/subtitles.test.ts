import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readSubtitles, subtitleFaults, toSrt, toVtt, type Subtitle } from '.';

const line = (from: number, to: number, text: string): Subtitle => ({ from, to, text });
const two = [line(0.5, 2, 'Mind the third plank.'), line(3661.25, 3662, 'It minds you.\nTwice.')];

describe('subtitles', () => {
  test('are written as SubRip and as WebVTT', () => {
    expect(toSrt(two)).toBe(
      '1\n00:00:00,500 --> 00:00:02,000\nMind the third plank.\n\n2\n01:01:01,250 --> 01:01:02,000\nIt minds you.\nTwice.\n',
    );
    expect(toVtt([line(0, 1, 'a < b & c')])).toBe(
      'WEBVTT\n\n00:00:00.000 --> 00:00:01.000\na &lt; b &amp; c\n',
    );
  });

  test('come back as they were, from either form', () => {
    const texts = fc
      .stringMatching(/^[a-zA-Z<>&;., äöå!?-]{1,40}$/)
      .filter((text) => text.trim() === text && !text.includes('-->'));
    const lines = fc.array(fc.tuple(fc.nat(5_000_000), fc.integer({ min: 1, max: 9000 }), texts), {
      maxLength: 12,
    });
    fc.assert(
      fc.property(lines, (all) => {
        const given = all
          .map(([from, length, text]) => line(from / 1000, (from + length) / 1000, text))
          .sort((a, b) => a.from - b.from);
        for (const form of [toSrt, toVtt]) {
          const { lines: back, problems } = readSubtitles(form(given));
          expect(problems).toEqual([]);
          expect(back.map(({ text }) => text)).toEqual(given.map(({ text }) => text));
          back.forEach(({ from, to }, i) => {
            expect(from).toBeCloseTo(given[i]!.from, 3);
            expect(to).toBeCloseTo(given[i]!.to, 3);
          });
        }
      }),
    );
  });

  test('other ways of writing: CRLF, a mark of order, no hours, settings behind the times, styles', () => {
    const { lines } = readSubtitles(
      '\uFEFFWEBVTT - of a film\r\n\r\nNOTE nothing\r\n\r\nfirst\r\n00:01.5 --> 00:02.000 align:start\r\n<i>Hold</i> the rail\r\n',
    );
    expect(lines).toEqual([line(1.5, 2, 'Hold the rail')]);
  });

  test('what has no end lasts to the next; what cannot be read is told with its line, and the rest is taken', () => {
    const { lines, problems } = readSubtitles(
      '1\n00:00:01,000 -->\nopen\n\n2\n00:00:03,000 --> 00:00:04,000\nnext\n\n3\nsoon --> later\nnever\n\n4\n00:00:09,000 --> 00:00:08,000\nback\n',
    );
    expect(lines).toEqual([line(1, 3, 'open'), line(3, 4, 'next')]);
    expect(problems.map(({ line: at }) => at)).toEqual([10, 14, 0]);
    expect(readSubtitles('').lines).toEqual([]);
    expect(readSubtitles('00:00:01,000 -->\nthe last').lines).toEqual([line(1, 6, 'the last')]);
  });

  test('overlaps, what is too fast and what comes after the end are pointed out', () => {
    const faults = subtitleFaults(
      [line(0, 2, 'a'), line(1.5, 1.6, 'far too much to read'), line(9, 11, 'b')],
      10,
    );
    expect(faults).toEqual([
      { at: 0, what: 'overlap' },
      { at: 1, what: 'too fast' },
      { at: 2, what: 'behind the end' },
    ]);
  });
});
