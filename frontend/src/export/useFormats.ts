import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../api/client";
import type { components } from "../api/schema";

export type Written = components["schemas"]["WritableFormat"];

/** The files that the server reads and writes; none until it has said. */
export function useFormats(): components["schemas"]["Formats"] {
  const { data } = useQuery({
    queryKey: ["formats"],
    queryFn: () => answered(api.GET("/api/formats")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data ?? { read: [], write: [], most_bytes: 0, most_faces: 0 };
}
