import type { Item } from "../document/types";

/** The sign of a kind of item; a shape is filled with its colour. */
export function Glyph({ item }: { item: Item }) {
  const paths: Record<Item["kind"], string> = {
    shape: "M3 12.5 8 15l5-2.5v-8L8 2 3 4.500ZM3 4.500 8 7l5-2.500M8 7v8",
    controller: "M8 1v5M8 10v5M1 8h5M10 8h5M8 5a3 3 0 1 0 0 6 3 3 0 0 0 0-6",
    path: "M1 13C5 13 4 4 8 4s3 9 7 9M1 11v4M15 11v4",
    light:
      "M8 5a3 3 0 1 0 0 6 3 3 0 0 0 0-6M8 1v2M8 13v2M1 8h2M13 8h2M3 3l1.500 1.500M11.500 11.500 13 13M13 3l-1.500 1.500M4.500 11.500 3 13",
    camera: "M1 5h9v7H1ZM10 8l5-3v7l-5-3",
  };
  const fill = item.kind === "shape" ? item.look.base_colour : "none";
  return (
    <svg
      width="16"
      height="16"
      viewBox="0 0 16 16"
      fill={fill}
      stroke="currentColor"
      strokeWidth="1.2"
      strokeLinejoin="round"
      aria-hidden="true"
    >
      <path d={paths[item.kind]} />
    </svg>
  );
}
