/** A small picture of a thing's variants in what covers them, alone or beside the surveyor. */

import { coveredPortrait, portraitUrl } from "../../api/things";
import type { Thing } from "../../generated/recipe";
import { useLatest } from "../../parts/use-latest";
import { useLetGo } from "../../parts/use-picture";
import { nameOf } from "../../state/part-names";
import { useWhileStill } from "../../state/still";

interface ThingPictureProps {
  thing: Thing;
  figure?: boolean;
  className?: string;
}

const isCovered = ({ cover }: Thing) => [...cover.layers, ...cover.wears].some((one) => one.on);

/** Where its picture in what covers it is found, once there is one; it follows when the hand rests. */
function useCovered(thing: Thing, figure: boolean): string | null {
  const key = useWhileStill(isCovered(thing) ? `${figure} ${nameOf(thing.source)} ${nameOf(thing.cover)}` : null);
  const { value } = useLatest(key, () => coveredPortrait(thing, figure));
  useLetGo(value);
  return key === null ? null : value;
}

export function ThingPicture({ thing, figure = false, className = "" }: ThingPictureProps) {
  const covered = useCovered(thing, figure);
  return (
    <img
      src={covered ?? portraitUrl(thing, figure)}
      data-covered={covered !== null}
      alt={figure ? `${thing.name} beside the surveyor, 1.75 m` : thing.name}
      loading="lazy"
      width={330}
      height={220}
      draggable={false}
      className={`bg-booth object-cover ${figure ? "" : "object-[50%_20%]"} ${className}`}
    />
  );
}
