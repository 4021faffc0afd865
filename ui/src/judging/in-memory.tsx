/** A picture in memory; its address is given back when another takes its place. */

import { useEffect, useRef } from "react";

interface InMemoryProps {
  picture: Blob;
  alt: string;
  /** What of its left is not shown, 0..1. */
  clipped?: number;
}

export function InMemory({ picture, alt, clipped = 0 }: InMemoryProps) {
  const image = useRef<HTMLImageElement>(null);
  useEffect(() => {
    const made = URL.createObjectURL(picture);
    if (image.current) image.current.src = made;
    return () => URL.revokeObjectURL(made);
  }, [picture]);
  return (
    <img
      ref={image}
      alt={alt}
      className="absolute inset-0 size-full object-cover"
      style={{ clipPath: `inset(0 0 0 ${100 * clipped}%)` }}
    />
  );
}
