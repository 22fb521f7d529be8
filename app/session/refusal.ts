/**
 * Why the server has not done something. Only "refused" and "too large" say for certain that it has not and will not;
 * after "unreachable" and "failed" it may have. "cancelled" was asked for here.
 */
export type Trouble = "unreachable" | "failed" | "conflict" | "refused" | "too large" | "cancelled";

/** What the server says when it will not do something. */
export class Refusal extends Error {
  constructor(
    readonly what: string,
    readonly todo: string,
    readonly trouble: Trouble = "refused",
  ) {
    super([what, todo].filter(Boolean).join(" "));
  }
}

const TROUBLES: Readonly<Record<number, Trouble>> = {
  409: "conflict",
  413: "too large",
  499: "cancelled",
  502: "unreachable",
  503: "unreachable",
  504: "unreachable",
};
const troubleOf = (status: number): Trouble => TROUBLES[status] ?? (status >= 500 ? "failed" : "refused");

/** Asks the server. @throws Refusal in its words, or in ours when it has none. */
export async function ask(url: string, init: RequestInit): Promise<unknown> {
  let response: Response;
  try {
    response = await fetch(url, init);
  } catch {
    throw new Refusal("The server does not answer.", "Nothing is lost: try again in a moment.", "unreachable");
  }
  const body: unknown = await response.json().catch(() => null);
  if (response.ok) return body;
  const error = (body as { error?: { what: string; where: string; todo: string } } | null)?.error;
  throw new Refusal(
    error ? [error.where && `${error.where}:`, error.what].filter(Boolean).join(" ") : "The server failed at this.",
    error?.todo ?? "",
    troubleOf(response.status),
  );
}

const sendJson = (method: string, url: string, body: unknown): Promise<unknown> =>
  ask(url, { method, headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) });
export const postJson = (url: string, body: unknown): Promise<unknown> => sendJson("POST", url, body);
export const putJson = (url: string, body: unknown): Promise<unknown> => sendJson("PUT", url, body);
