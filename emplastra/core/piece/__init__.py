"""The piece and its faces: areas, meshes, the map, kinds of part."""
