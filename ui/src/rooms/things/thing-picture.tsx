/** A small picture of a thing's variants, alone or beside the surveyor. */

import { portraitUrl } from "../../api/things";
import type { Thing } from "../../generated/recipe";

interface ThingPictureProps {
  thing: Thing;
  figure?: boolean;
  className?: string;
}

export function ThingPicture({ thing, figure = false, className = "" }: ThingPictureProps) {
  return (
    <img
      src={portraitUrl(thing, figure)}
      alt={figure ? `${thing.name} beside the surveyor, 1.75 m` : thing.name}
      loading="lazy"
      width={330}
      height={220}
      draggable={false}
      className={`bg-booth object-cover ${className}`}
    />
  );
}
