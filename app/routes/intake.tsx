export { IntakeSheet as default } from "../stations/intake/IntakeSheet";
