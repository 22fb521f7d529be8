export { SkeletonSheet as default } from "../stations/skeleton/SkeletonSheet";
