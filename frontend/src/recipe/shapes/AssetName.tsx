import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";

/** The name of an imported file. */
export function AssetName({ hash }: { hash: string }) {
  const { data } = useQuery({ queryKey: ["assets"], queryFn: () => answered(api.GET("/api/assets")) });
  return <b>{data?.assets.find((asset) => asset.hash === hash)?.name ?? "a file"}</b>;
}
