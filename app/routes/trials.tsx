export { TrialsSheet as default } from "../stations/trials/TrialsSheet";
