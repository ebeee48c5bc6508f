/**
 * Why a file was checked again; `unchanged` where it was not, and `recalled` where it has changed to what was checked at some
 * earlier time.
 */
export type FileReason = 'unchanged' | 'recalled' | 'first' | 'content' | 'configuration' | 'files'
