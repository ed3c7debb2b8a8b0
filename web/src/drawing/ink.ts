/** The palette and type of the drawings: presentation attributes, the same on screen and in print. */
export const ink = {
  paper: "#f4efe6",
  sheet: "#fffdf8",
  ink: "#1b2126",
  soft: "#474c50",
  faint: "#b9ab92",
  rule: "#dccfb9",
  copper: "#a8481b",
  stop: "#96181c",
  warning: "#6d4300",
} as const;

export const font = "'Archivo Variable', Archivo, sans-serif";
