import { bodyCodes } from './bodies.ts'
import { configurationCodes } from './configuration.ts'
import { entryCodes } from './entries.ts'
import { syntaxCodes } from './syntax.ts'
import { valueCodes } from './values.ts'

/** Every diagnostic there is: its code, severity, message and help. */
export const catalogue = { ...configurationCodes, ...syntaxCodes, ...entryCodes, ...bodyCodes, ...valueCodes }

export type Catalogue = typeof catalogue
