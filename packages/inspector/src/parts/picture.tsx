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
    void loadPicture(path).then((loaded) => {
      if (!isGone) setAddress(loaded)
    })
    return () => {
      isGone = true
    }
  }, [path])
  return address === undefined ? (
    <span className={`picture-place ${className ?? ''}`} />
  ) : (
    <img src={address} alt={alt} className={className} />
  )
}
