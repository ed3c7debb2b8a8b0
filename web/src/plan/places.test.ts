import { expect, test } from "vitest";

import { placeOf } from "./places";

test.each([
  ["circuits/RT-1/ocpd/rating_a", "lines", "lines?line=RT-1", "RT-1"],
  ["equipment/UH-2", "lines", "lines?unit=UH-2", "UH-2"],
  ["sources/TP/bus_a", "site", "panels?panel=TP", null],
  ["devices/AH-1", "landings", "landings?device=AH-1", "AH-1"],
  ["devices/AH-1", "bench", "bench?system=AH-1", "AH-1"],
  ["cables/TC 1/conductors/red", "landings", "landings?cable=TC%201", "TC 1"],
  ["questions/Q-1", "lines", "suit", null],
  ["site", "site", "site", null],
])("%s at %s is shown at %s", (about, station, to, name) => {
  expect(placeOf(about, station)).toEqual({ to, name });
});
