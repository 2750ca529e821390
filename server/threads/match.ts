import type { Piece, ShotDocument } from '@/core/shot/document';
import { matchedPiece } from '../shots/pieces';
import { task } from './task';

/** Colours that make a plate's piece look at home where it lies. */
export const match = task<
  { readonly piece: Piece; readonly source: ShotDocument['source'] },
  { readonly piece: Piece }
>(async ({ piece, source }) => ({ piece: await matchedPiece(piece, source) }));
