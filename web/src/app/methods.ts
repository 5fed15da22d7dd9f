/** The methods of sequence in the words that the server gives them. */
import { useSuspenseQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { type MethodsWish, methodsQuery } from "../api/queries";

export type Method = Schemas["MethodOut"];

/** From the first firing TDC, the running way, anywhere, with any margin. */
export const PLAIN_WISH: MethodsWish = {
  startDeg: 0,
  direction: "running",
  minMarginDeg: 0,
  stops: "any",
};

/** All of them, in the order in which they are taught. */
export function useMethods(): readonly Method[] {
  return useSuspenseQuery(methodsQuery).data;
}

/** One of them; of an unknown one (an old address) its bare name. */
export function useMethod(name: string): Method {
  const found = useMethods().find((method) => method.name === name);
  return found ?? { name, title: name, about: "", recognise: "" };
}
