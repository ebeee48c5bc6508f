/** Why a file was checked again; `unchanged` where it was not. */
export type FileReason = 'unchanged' | 'first' | 'content' | 'configuration' | 'files'
