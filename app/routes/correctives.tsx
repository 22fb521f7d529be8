export { CorrectivesSheet as default } from "../stations/correctives/CorrectivesSheet";
