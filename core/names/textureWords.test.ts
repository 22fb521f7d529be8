import { readTextureName } from "./textureWords";

/** Names as files of textures come, common practice of many programs, no source. */
describe("the name of a texture file", () => {
  it.each([
    ["T_Hair_BC.png", "base colour", ["hair"]],
    ["oda-lash-opacity.png", "opacity", ["oda", "lash"]],
    ["Shirt_Normal_DirectX_2K.png", "normal, green down", ["shirt"]],
    ["Shirt_Normal_OpenGL.png", "normal", ["shirt"]],
    ["skin_rough.jpg", "roughness", ["skin"]],
    ["skin_roughness_2048.jpg", "roughness", ["skin"]],
    ["skinRoughness.jpg", "roughness", ["skin"]],
    ["boots glossiness.png", "gloss", ["boots"]],
    ["Buckle_Metallic.png", "metalness", ["buckle"]],
    ["body_AO.png", "occlusion", ["body"]],
    ["body_ambient_occlusion.png", "occlusion", ["body"]],
    ["coat_ORM.png", "occlusion, roughness, metalness", ["coat"]],
    ["coat_metallicRoughness.png", "occlusion, roughness, metalness", ["coat"]],
    ["coat_occlusionRoughnessMetallic.png", "occlusion, roughness, metalness", ["coat"]],
    ["lamp_emissive.png", "emissive", ["lamp"]],
    ["Eye_Base_Color.png", "base colour", ["eye"]],
    ["face_n.png", "normal", ["face"]],
    ["face_d.tga", "base colour", ["face"]],
    ["hair_alpha_mask.png", "opacity", ["hair"]],
    ["map_skin_smoothness.png", "gloss", ["skin"]],
  ])("%s", (file, use, rest) => {
    expect(readTextureName(file)).toMatchObject({ use, rest });
  });

  it("a path before it says nothing", () => {
    expect(readTextureName("C:\\textures\\normal\\skin_albedo.png")).toMatchObject({
      use: "base colour",
      rest: ["skin"],
    });
  });

  it.each([
    ["skin_height.png", "height"],
    ["skin_disp.exr", "height"],
    ["skin_specular.png", "specular"],
    ["skin_sss.png", "scattering"],
  ])("%s has no place in a glTF material", (file, other) => {
    expect(readTextureName(file)).toMatchObject({ use: null, other, rest: ["skin"] });
  });

  it("a tile of a surface that is spread over several images is told", () => {
    expect(readTextureName("body_color.1002.png")).toMatchObject({ use: "base colour", rest: ["body"], tile: 1002 });
    expect(readTextureName("body_color_1024.png").tile).toBeNull();
    expect(readTextureName("body_color_2048.png").tile).toBeNull();
  });

  it("a name without a word for it is left open", () => {
    expect(readTextureName("oda.png")).toMatchObject({ use: null, other: "", rest: ["oda"] });
  });
});
