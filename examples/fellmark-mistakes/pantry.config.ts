/** The collections of the Fellmark, for content that breaks their rules. */
export { default } from '../fellmark/pantry.config.ts'
