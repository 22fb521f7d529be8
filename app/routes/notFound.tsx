import { data } from "react-router";

export const loader = (): never => {
  throw data(
    { what: "Nothing is at this address", todo: "The link may be old. The cast lists every character." },
    { status: 404 },
  );
};
export default function NotFound(): null {
  return null;
}
