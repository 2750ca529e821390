/** What an artist may choose among, in this order. */
export const CONTINUE_PROPOSALS = ['as it continues', 'soft', 'patched'] as const;
