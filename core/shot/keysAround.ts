/** The keys on both sides of a frame, itself included. @param keys rising */
export function keysAround<Key extends { readonly frame: number }>(
  { keys }: { readonly keys: readonly Key[] },
  moment: number,
): { readonly before: Key | undefined; readonly after: Key | undefined } {
  return {
    before: keys.filter(({ frame }) => frame <= moment).pop(),
    after: keys.find(({ frame }) => frame >= moment),
  };
}
