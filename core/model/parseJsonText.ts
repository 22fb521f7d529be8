import { UserError } from "./userError";
import { within } from "./budget";
import { jsonDepth } from "./jsonDepth";

/** JSON as a value, of bounded depth. @param says what the person hears when it is none. @throws UserError */
export function parseJsonText(text: string, file: string, says = "This is not JSON.", todo = ""): unknown {
  within("jsonDepth", jsonDepth(text), file, todo);
  try {
    return JSON.parse(text);
  } catch {
    throw new UserError(says, file, todo);
  }
}
