import { beginBits, endBits, putBits } from './bits';
import { isAnchor, subsetOf } from './bc7-decode';
import {
  BEST_CHANNEL,
  BEST_INDEX,
  BEST_RAW,
  channelFirst,
  channelSecond,
  fit,
  fitChannel,
  layEnds,
  polish,
  prepareFit,
  swapChannels,
} from './bc7-fit';
import { maskOf2, maskOf3, prepareProducts, rank, RANKED } from './bc7-partitions';
import { MODES } from './bc7-tables';
import { plane } from './planes';

/** What is written in the end: mode, partition, rotation, selector, and for each subset its ends and the indices. */
let mode: u32 = 6;
let partition: u32 = 0;
let rotation: u32 = 0;
let selector: u32 = 0;
let least: f32 = Infinity;
const ENDS: usize = memory.data(24);
const INDEX: usize = memory.data(16);
const SECOND: usize = memory.data(16);
let alphaFirst: u32 = 0;
let alphaSecond: u32 = 0;

const TRIED_ENDS: usize = memory.data(24);
const TRIED: usize = memory.data(16);

/** Below this squared error a block, the eye and every measure see no difference: 55 dB. */
const GOOD_ENOUGH: f32 = 12;

export function prepareBc7(): void {
  prepareFit();
}

/** Tries a mode whose channels are all kept together. */
function tryShared(candidate: u32, way: u32, rounds: i32, sweeps: i32): void {
  const facts = MODES + candidate * 10;
  const count = <u32>load<u8>(facts);
  const alpha = <u32>load<u8>(facts, 5);
  const p: u32 = load<u8>(facts, 6) ? 1 : load<u8>(facts, 7) ? 2 : 0;
  layEnds(alpha > 0 ? 4 : 3, <u32>load<u8>(facts, 4), alpha, p, <u32>load<u8>(facts, 8));
  let error: f32 = 0;
  for (let s: u32 = 0; s < count; s++) {
    let mask: u32 = 0xffff;
    if (count === 2) mask = s ? maskOf2(way) : ~maskOf2(way) & 0xffff;
    else if (count === 3) mask = maskOf3(way, s);
    let part = fit(mask, rounds, least);
    if (sweeps > 0 && part < least * 2) part = polish(part, sweeps);
    error += part;
    if (error >= least) return;
    store<u64>(TRIED_ENDS + (s << 3), load<u64>(BEST_RAW));
    for (let i: u32 = 0; i < 16; i++) if ((mask >> i) & 1) store<u8>(TRIED + i, load<u8>(BEST_INDEX + i));
  }
  least = error;
  mode = candidate;
  partition = way;
  rotation = selector = 0;
  memory.copy(ENDS, TRIED_ENDS, 24);
  v128.store(INDEX, v128.load(TRIED));
}

/** Tries a mode that keeps one channel apart (4 and 5). */
function tryApart(candidate: u32, turn: u32, select: u32, rounds: i32): void {
  const facts = MODES + candidate * 10;
  const coarse = <u32>load<u8>(facts, 8);
  const fine = <u32>load<u8>(facts, 9);
  if (turn > 0) swapChannels(turn - 1, 3);
  layEnds(3, <u32>load<u8>(facts, 4), 0, 0, select ? fine : coarse);
  let error = fit(0xffff, rounds, least);
  if (error < least) {
    error += fitChannel(3, <u32>load<u8>(facts, 5), select ? coarse : fine);
    if (error < least) {
      least = error;
      mode = candidate;
      rotation = turn;
      selector = select;
      partition = 0;
      store<u64>(ENDS, load<u64>(BEST_RAW));
      v128.store(INDEX, v128.load(BEST_INDEX));
      v128.store(SECOND, v128.load(BEST_CHANNEL));
      alphaFirst = channelFirst;
      alphaSecond = channelSecond;
    }
  }
  if (turn > 0) swapChannels(turn - 1, 3);
}

/** One block whose planes are loaded (Khronos Data Format Specification, 20.1). */
export function encodeBc7(to: usize, quality: i32): void {
  let isOpaque = true;
  for (let i: u32 = 0; i < 16; i++) if (plane(3, i) !== 255) isOpaque = false;
  least = Infinity;
  const rounds = quality === 0 ? 1 : quality === 1 ? 2 : 4;
  const sweeps = quality === 2 ? 2 : 0;
  tryApart(5, 0, 0, rounds);
  if (least > GOOD_ENOUGH) tryShared(6, 0, rounds, sweeps);
  if (least > GOOD_ENOUGH && quality > 0) {
    prepareProducts();
    const most: u32 = quality === 1 ? 2 : 12;
    rank(2, 64, most, !isOpaque);
    for (let n: u32 = 0; n < most && least > GOOD_ENOUGH; n++) {
      const way = <u32>load<u8>(RANKED + n);
      if (isOpaque) {
        tryShared(1, way, rounds, sweeps);
        tryShared(3, way, rounds, sweeps);
      } else tryShared(7, way, rounds, sweeps);
    }
    const turns: u32 = quality === 1 && isOpaque ? 1 : 4;
    for (let turn: u32 = 0; turn < turns && least > GOOD_ENOUGH; turn++) {
      if (turn > 0) tryApart(5, turn, 0, rounds);
      tryApart(4, turn, 0, rounds);
      tryApart(4, turn, 1, rounds);
    }
    if (isOpaque && least > GOOD_ENOUGH * 4) {
      const wanted: u32 = quality === 1 ? 1 : 8;
      rank(3, 64, wanted, false);
      for (let n: u32 = 0; n < wanted && least > GOOD_ENOUGH; n++) {
        const way = <u32>load<u8>(RANKED + n);
        tryShared(2, way, rounds, sweeps);
        if (way < 16) tryShared(0, way, rounds, sweeps);
      }
    }
  }
  write(to);
}

/** An end of a subset; with `isTurned` the other one. */
function endAt(s: u32, e: u32): usize {
  return ENDS + (s << 3) + (e << 2);
}

function write(to: usize): void {
  const facts = MODES + mode * 10;
  const count = <u32>load<u8>(facts);
  const colourBits = <u32>load<u8>(facts, 4);
  const alphaBits = <u32>load<u8>(facts, 5);
  const ownP = <u32>load<u8>(facts, 6);
  const sharedP = <u32>load<u8>(facts, 7);
  const indexBits = <u32>load<u8>(facts, 8);
  const secondBits = <u32>load<u8>(facts, 9);
  const isApart = secondBits > 0;
  // What the colours use: with the selector set, the second set of indices.
  const colourIndex = isApart && selector ? secondBits : indexBits;
  const alphaIndex = selector ? indexBits : secondBits;
  // The anchor's index has no top bit: where it has one, ends and indices are turned round.
  for (let s: u32 = 0; s < count; s++) {
    let anchor: u32 = 0;
    for (let i: u32 = 0; i < 16; i++)
      if (isAnchor(count, partition, i) && subsetOf(count, partition, i) === s) anchor = i;
    if (load<u8>(INDEX + anchor) >> (colourIndex - 1) === 0) continue;
    store<u64>(ENDS + (s << 3), rotl<u64>(load<u64>(ENDS + (s << 3)), 32));
    const top = (1 << colourIndex) - 1;
    for (let i: u32 = 0; i < 16; i++)
      if (subsetOf(count, partition, i) === s) store<u8>(INDEX + i, top - load<u8>(INDEX + i));
  }
  if (isApart && load<u8>(SECOND) >> (alphaIndex - 1)) {
    const kept = alphaFirst;
    alphaFirst = alphaSecond;
    alphaSecond = kept;
    const top = (1 << alphaIndex) - 1;
    for (let i = 0; i < 16; i++) store<u8>(SECOND + i, top - load<u8>(SECOND + i));
  }
  beginBits();
  putBits(1 << mode, mode + 1);
  putBits(partition, <u32>load<u8>(facts, 1));
  putBits(rotation, <u32>load<u8>(facts, 2));
  putBits(selector, <u32>load<u8>(facts, 3));
  const shift = ownP + sharedP;
  for (let c: u32 = 0; c < 3; c++)
    for (let s: u32 = 0; s < count; s++)
      for (let e: u32 = 0; e < 2; e++) putBits((<u32>load<u8>(endAt(s, e) + c)) >> shift, colourBits);
  if (isApart) {
    putBits(alphaFirst, alphaBits);
    putBits(alphaSecond, alphaBits);
  } else if (alphaBits > 0)
    for (let s: u32 = 0; s < count; s++)
      for (let e: u32 = 0; e < 2; e++) putBits((<u32>load<u8>(endAt(s, e), 3)) >> shift, alphaBits);
  if (ownP)
    for (let s: u32 = 0; s < count; s++)
      for (let e: u32 = 0; e < 2; e++) putBits((<u32>load<u8>(endAt(s, e))) & 1, 1);
  else if (sharedP) for (let s: u32 = 0; s < count; s++) putBits((<u32>load<u8>(endAt(s, 0))) & 1, 1);
  const one = isApart && selector ? SECOND : INDEX;
  for (let i: u32 = 0; i < 16; i++)
    putBits(<u32>load<u8>(one + i), indexBits - <u32>isAnchor(count, partition, i));
  if (isApart) {
    const other = selector ? INDEX : SECOND;
    for (let i: u32 = 0; i < 16; i++) putBits(<u32>load<u8>(other + i), secondBits - <u32>(i === 0));
  }
  endBits(to);
}
