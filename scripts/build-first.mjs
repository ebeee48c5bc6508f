import { buildPackage } from './install.mjs'

/** Tests drive the built package: a run of them builds it first, so that none looks at what the sources no longer say. */
export default async function setup() {
  await buildPackage()
}
