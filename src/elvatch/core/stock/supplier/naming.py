"""How packs name their files: each convention a different one, as they come from different hands."""

from __future__ import annotations

from typing import NamedTuple

from elvatch.core.stock.roles import Meaning


class Convention(NamedTuple):
    """Paths by what a file is; ``{name}``, ``{Name}``, ``{size}`` and ``{k}`` are filled in.

    A role that is not there is not in the pack, unless a packed file holds it.
    """

    paths: dict[Meaning, str]
    ending: str = "png"


LONG = Convention(
    {
        "colour": "{name}_basecolor_{k}",
        "normal": "{name}_normal_gl_{k}",
        "roughness": "{name}_roughness_{k}",
        "occlusion": "{name}_ambientocclusion_{k}",
        "height": "{name}_height_{k}",
    }
)
LONG_DOWN = Convention(
    {
        "colour": "{name}_albedo_{k}",
        "normal": "{name}_normal_{k}",
        "roughness": "{name}_rough_{k}",
        "occlusion": "{name}_ao_{k}",
        "height": "{name}_disp_{k}",
    }
)
SHORT = Convention(
    {
        "colour": "{Name}_d",
        "normal": "{Name}_n",
        "roughness": "{Name}_r",
        "occlusion": "{Name}_ao",
        "height": "{Name}_h",
    }
)
SHORT_DOWN = Convention(
    {
        "colour": "{name}-{size}-c",
        "normal": "{name}-{size}-n",
        "roughness": "{name}-{size}-r",
        "occlusion": "{name}-{size}-o",
        "height": "{name}-{size}-h",
    }
)
CAMEL = Convention(
    {
        "colour": "{Name}BaseColor",
        "normal": "{Name}Normal",
        "roughness": "{Name}Roughness",
        "occlusion": "{Name}AmbientOcclusion",
        "height": "{Name}Displacement",
    },
    "tif",
)
PACKED_ORM = Convention(
    {
        "colour": "{name} in {k}/surface colour",
        "normal": "{name} in {k}/surface normal yup",
        "packed-orm": "{name} in {k}/surface occlusion+roughness+metallic",
        "height": "{name} in {k}/surface height",
    }
)
PACKED_RMA = Convention(
    {
        "colour": "{name}-col-{size}x{size}",
        "normal": "{name}-nrm-{size}x{size}",
        "packed-rma": "{name}-rma-{size}x{size}",
        "height": "{name}-dsp-{size}x{size}",
    }
)
GLOSS = Convention(
    {
        "colour": "{size}-{Name}-Albedo",
        "normal": "{size}-{Name}-Normals",
        "gloss": "{size}-{Name}-Smoothness",
        "occlusion": "{size}-{Name}-Occlusion",
        "height": "{size}-{Name}-Displacement",
    }
)
GLOSS_AS_ROUGH = Convention(
    {
        "colour": "{name}.diffuse.v2",
        "normal": "{name}.normal.v2",
        "roughness": "{name}.roughness.v2",
        "occlusion": "{name}.occlusion.v2",
        "height": "{name}.height.v2",
    }
)
FOLDERS = Convention(
    {
        "colour": "color/{name}",
        "normal": "normal/{name}",
        "roughness": "roughness/{name}",
        "occlusion": "occlusion/{name}",
        "height": "height/{name}",
    }
)
SPACES = Convention(
    {
        "colour": "{Name} (base colour) {size}px",
        "normal": "{Name} (normal OpenGL) {size}px",
        "roughness": "{Name} (rough) {size}px",
        "occlusion": "{Name} (AO) {size}px",
        "height": "{Name} (height) {size}px",
    }
)
SCRAMBLED = Convention(
    {
        "colour": "{name}_normal_final",
        "normal": "{name}_bump_final",
        "roughness": "{name}_rough_final",
        "occlusion": "{name}_occ_final",
        "height": "{name}_height_final",
    }
)
OVERLAY = Convention({"mask": "{name}_overlay_mask_{k}"})
