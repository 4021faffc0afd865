/** Whether the ground lies or stands as a face, and how that stands in the world. */

import type { Recipe, Upright } from "../../generated/recipe";
import { Segments } from "../../parts/segments";
import { Track } from "../../parts/track";
import { numbersOf, usualsOf } from "../../state/numbers";
import { useSite } from "../../state/site";

const PLUMB = usualsOf("Upright", ["faces_deg", "foot_m"]);

type Stands = Recipe["stands"];

/** The same stands, each looking so much further round. */
function turned(stands: Stands, byDeg: number): Stands {
  const one = (stand: Stands["far"]) => ({ ...stand, bearing_deg: (((stand.bearing_deg + byDeg) % 360) + 360) % 360 });
  return { far: one(stands.far), mid: one(stands.mid), near: one(stands.near) };
}

/** Stands the ground up, or lays it down; who looks at it goes round with it, and stays before it. */
function standing(upright: Upright | null): (recipe: Recipe) => Recipe {
  return (recipe) => {
    const was = recipe.ground.upright;
    // a face that looks south, as one does at first, is looked at along north, about as lying ground is
    const by = (upright ?? PLUMB).faces_deg - (was ?? PLUMB).faces_deg;
    const stands = turned(recipe.stands, by);
    return { ...recipe, ground: { ...recipe.ground, upright }, stands };
  };
}

export function StandsPart({ upright }: { upright: Upright | null }) {
  const { preview, keep, drop } = useSite.getState();
  return (
    <div className="mt-2 max-w-[420px]">
      <Segments
        label="How the ground stands"
        value={upright ? "upright" : "lying"}
        choices={[
          { value: "lying", label: "It lies", hint: "Heights go up; its edges look north, east, south and west" },
          {
            value: "upright",
            label: "It stands upright",
            hint: "A wall or face: heights come out of it, its depth is its height",
          },
        ]}
        onChoose={(way) =>
          keep(
            way === "upright" ? "stood the ground upright" : "laid the ground down",
            standing(way === "upright" ? PLUMB : null),
          )
        }
      />
      {upright && (
        <div className="mt-1">
          {numbersOf("Upright").map(({ field, usual, shown }) => {
            const change = (value: number) => standing({ ...upright, [field]: value });
            return (
              <Track
                key={field}
                {...shown}
                usual={usual}
                value={field === "faces_deg" ? upright.faces_deg : upright.foot_m}
                onMove={(value) => preview(change(value))}
                onKeep={(value) => keep(`face: ${shown.label.toLowerCase()}`, change(value))}
                onDrop={drop}
              />
            );
          })}
          <p className="text-quiet">
            Steepness, facing and elevation are those of the world; water runs down it. Maps leave lying, row 0 its
            upper edge.
          </p>
        </div>
      )}
    </div>
  );
}
