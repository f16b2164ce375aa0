import type { Configuration } from "../api/client";

type Jig = NonNullable<Configuration["jig"]>;

/**
 * A balance that was read, with a second reading of the model as it stands now. The first is brought along over whatever was moved
 * since: two readings of two different models would contradict each other, and both be right. Known as well as the worse of the two.
 */
export function readAgain(jig: Jig, items_x_m: number, again: { x_m: number; sigma_m?: number }): Jig {
  return {
    ...jig,
    x_m: jig.x_m + items_x_m - jig.items_x_m,
    items_x_m,
    sigma_m: Math.max(jig.sigma_m, again.sigma_m ?? 0),
    again_m: again.x_m,
  };
}
