/** The address of a picture that a field names, below the `assetBase` of the configuration. */
export const addressOf = (file: string): string => `/files/${file}`
