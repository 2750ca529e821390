/** Takes a picture row by row, RGB bytes; `write` resolves when more may come, `end` when the file is whole. */
export interface RowWriter {
  write(row: Uint8Array): Promise<void>;
  end(): Promise<void>;
}
