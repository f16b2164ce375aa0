/** A model as simple as one can be drawn, for what is logged of a card. */
import type { Flown } from "../components/flown-context";

export const FLOWN = {
  airframe: {
    surfaces: [
      {
        key: "wing",
        role: "wing",
        x_m: 0,
        z_m: 0,
        sections: [
          { y_m: 0, chord_m: 0.2 },
          { y_m: 0.8, chord_m: 0.2 },
        ],
      },
    ],
    body: { nose_x_m: -0.3, length_m: 1, width_m: 0.1, height_m: 0.1 },
    fin: null,
    motor: null,
  },
  directions: undefined,
} as unknown as Flown;
