/**
 * Why a file was checked again; `unchanged` where it was not, `recalled` where it has changed to what was checked at some
 * earlier time, and `values` where only its values were, since its fields take something else now.
 */
export type FileReason = 'unchanged' | 'values' | 'recalled' | 'first' | 'content' | 'configuration' | 'files'
