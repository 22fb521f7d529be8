export { ShapesSheet as default } from "../stations/shapes/ShapesSheet";
