/** Numbers as people type them: arithmetic with + - * / and brackets, and a unit behind (`40 cm`, `2 * 0.3 m`). */

const FACTORS: Record<string, Record<string, number>> = {
  m: { m: 1, cm: 0.01, mm: 0.001, km: 1000 },
  "°": { "°": 1, deg: 1, rad: 180 / Math.PI },
  "%": { "%": 1 },
  "×": { "×": 1, x: 1 },
  px: { px: 1 },
};

/** The number in the quantity's own unit, or null where the text is not understood. */
export function readNumber(text: string, unit: string): number | null {
  const match = /^(.*?)\s*([a-z°%×]*)\s*$/i.exec(text.replace(",", "."));
  if (!match) return null;
  const [, sum = "", suffix = ""] = match;
  const factor = suffix === "" ? 1 : FACTORS[unit]?.[suffix.toLowerCase()];
  const value = readSum(sum);
  return factor === undefined || value === null || !Number.isFinite(value) ? null : value * factor;
}

function readSum(text: string): number | null {
  const tokens = text.match(/\d*\.?\d+(?:e[+-]?\d+)?|[-+*/()]/gi) ?? [];
  if (tokens.join("") !== text.replace(/\s+/g, "") || tokens.length === 0 || tokens.length > 100) return null;
  let place = 0;

  function factor(): number {
    const token = tokens[place++];
    if (token === "-") return -factor();
    if (token === "+") return factor();
    if (token === "(") {
      const inner = sum();
      return tokens[place++] === ")" ? inner : Number.NaN;
    }
    return token === undefined ? Number.NaN : Number(token);
  }

  function product(): number {
    let value = factor();
    while (tokens[place] === "*" || tokens[place] === "/")
      value = tokens[place++] === "*" ? value * factor() : value / factor();
    return value;
  }

  function sum(): number {
    let value = product();
    while (tokens[place] === "+" || tokens[place] === "-")
      value = tokens[place++] === "+" ? value + product() : value - product();
    return value;
  }

  const value = sum();
  return place === tokens.length && !Number.isNaN(value) ? value : null;
}

/** A number short enough to read, long enough to tell. */
export function shown(value: number, whole = false): string {
  if (whole) return String(Math.round(value));
  const size = Math.abs(value);
  const digits = size >= 1000 ? 0 : size >= 100 ? 1 : size >= 0.1 || size === 0 ? 2 : size >= 0.001 ? 4 : 6;
  const text = value.toFixed(digits);
  const short = digits > 2 ? text.replace(/(\.\d\d\d*?)0+$/, "$1") : text;
  return short === "-0.00" ? "0.00" : short;
}

/** The same to look at only: large whole numbers in groups of three. */
export function told(value: number, whole = false): string {
  return whole && Math.abs(value) >= 10_000 ? Math.round(value).toLocaleString("en") : shown(value, whole);
}
