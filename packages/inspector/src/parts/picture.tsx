import { useEffect, useState } from 'react'
import { loadPicture } from '../site/calls.ts'

/** A picture of the content. */
export function Picture({
  path,
  alt,
  className,
}: {
  readonly path: string
  readonly alt: string
  readonly className?: string
}) {
  const [address, setAddress] = useState<string>()
  useEffect(() => {
    let isGone = false
    let made: string | undefined
    void loadPicture(path).then((loaded) => {
      made = loaded
      if (isGone && loaded) URL.revokeObjectURL(loaded)
      else setAddress(loaded)
    })
    return () => {
      isGone = true
      if (made) URL.revokeObjectURL(made)
    }
  }, [path])
  return address === undefined ? (
    <span className={`picture-place ${className ?? ''}`} />
  ) : (
    <img src={address} alt={alt} className={className} />
  )
}
