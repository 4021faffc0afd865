"""What names say: many conventions, in any case and order, sizes and versions and words of the ground among them."""

from __future__ import annotations

import pytest

from elvatch.core.stock import names

# path, what it is, the set it belongs to
PATTERNS = """
slate_d.png                                  colour      slate
slate_diff.png                               colour      slate
slate_col.png                                colour      slate
slate_albedo.jpg                             colour      slate
slate_basecolor.tif                          colour      slate
slate_base_color.tif                         colour      slate
slate-base-colour.tif                        colour      slate
Slate_BaseColor.TGA                          colour      slate
SlateBaseColor.exr                           colour      slate
slate.diffuse.png                            colour      slate
slate_bc.png                                 colour      slate
Slate (Color).png                            colour      slate
slate_n.png                                  normal      slate
slate_nrm.png                                normal      slate
slate_nor.png                                normal      slate
slate_norm.png                               normal      slate
slate_normal.png                             normal      slate
slate_NORMAL_MAP.png                         normal      slate
slate_nor_gl_4k.exr                          normal      slate
slate_normal_dx.png                          normal      slate
Slate_2K-PNG_NormalGL.png                    normal      slate
SlateNormalDX.png                            normal      slate
slate_normal_opengl_2048.png                 normal      slate
slate_r.png                                  roughness   slate
slate_rough.png                              roughness   slate
slate_rgh.png                                roughness   slate
SLATE_ROUGHNESS.PNG                          roughness   slate
slate_roughness_8bit.png                     roughness   slate
slate_gloss.png                              gloss       slate
slate_glossiness.png                         gloss       slate
SlateSmoothness.png                          gloss       slate
slate_h.png                                  height      slate
slate_height.png                             height      slate
slate_height_16.png                          height      slate
slate_disp.exr                               height      slate
slate_displacement_v2.tif                    height      slate
slate_DISP16_2K.tif                          height      slate
slate_bump.png                               height      slate
slate_ao.png                                 occlusion   slate
slate_occ.png                                occlusion   slate
SlateAO.png                                  occlusion   slate
slate_ambient_occlusion.png                  occlusion   slate
SlateAmbientOcclusion_final.png              occlusion   slate
slate_m.png                                  metallic    slate
slate_metal.png                              metallic    slate
slate_metalness.png                          metallic    slate
slate_metallic_1k.png                        metallic    slate
slate_orm.png                                packed-orm  slate
slate_ARM_4k.png                             packed-orm  slate
slate_OcclusionRoughnessMetallic.png         packed-orm  slate
slate_rma.png                                packed-rma  slate
slate_mask.png                               mask        slate
slate_overlay_mask_2k.png                    mask        slate overlay
slate_preview.png                            left-out    slate
Slate_COL_2K_METALNESS.png                   colour      slate
Slate_METALNESS_2K_METALNESS.png             metallic    slate
T_Slate_01_D.tga                             colour      slate 01
T_Slate_01_N.tga                             normal      slate 01
slate03_2048x2048_nrm.png                    normal      slate03
2k_slate_normal.png                          normal      slate
normal_slate.png                             normal      slate
ao-slate-v03.png                             occlusion   slate
slate-basecolor-4096px.webp                  colour      slate
slate_srgb_color.png                         colour      slate
rough_grass_d.png                            colour      rough grass
rough_grass_rough.png                        roughness   rough grass
rough_grass_normal.png                       normal      rough grass
RoughGrass_AO.png                            occlusion   rough grass
metal_plate_metallic.png                     metallic    metal plate
metal_plate_roughness.png                    roughness   metal plate
smooth_pebbles_height.png                    height      smooth pebbles
bump_track_col.png                           colour      bump track
slate/albedo.png                             colour      slate
pack/slate/n.png                             normal      slate
maps/normal/slate.png                        normal      slate
maps/color/slate.png                         colour      slate
slate/textures/slate_arm_2k.png              packed-orm  slate
мох_normal.png                               normal      мох
苔_albedo.png                                 colour      苔
صخر_roughness.png                            roughness   صخر
"""


@pytest.mark.parametrize("line", PATTERNS.strip().splitlines())
def test_names_of_many_conventions(line: str) -> None:
    path, meaning, key = (part.strip() for part in line.split("  ") if part.strip())
    said = names.read(path)
    assert (said.meaning, said.key) == (meaning, key)


def test_there_are_at_least_sixty_patterns() -> None:
    assert len(PATTERNS.strip().splitlines()) >= 60


@pytest.mark.parametrize(
    "path", ["rough_grass.png", "RoughGrass_02.jpg", "metal_plate_4k.png", "IMG_2041.jpg", "苔.png"]
)
def test_a_name_without_a_map_says_nothing(path: str) -> None:
    assert names.read(path).meaning is None


@pytest.mark.parametrize(
    ("path", "tile_m", "size_px", "green"),
    [
        ("mud_2m_normal_dx_4k.png", 2.0, 4096, "down"),
        ("mud_150cm_NormalGL_2048.png", 1.5, 2048, "up"),
        ("Ground_Mud_1.5m_Normal.exr", 1.5, None, None),
        ("plate-40mm-n.png", 0.04, None, None),
        ("mud_2x2m_ogl_nrm_1024x1024.png", 2.0, 1024, "up"),
        ("mud_n.png", None, None, None),
    ],
)
def test_sizes_and_the_green_axis_are_read(
    path: str, tile_m: float | None, size_px: int | None, green: str | None
) -> None:
    said = names.read(path)
    assert (said.meaning, said.tile_m, said.size_px, said.green) == ("normal", tile_m, size_px, green)
    assert said.key in ("mud", "ground mud", "plate")
