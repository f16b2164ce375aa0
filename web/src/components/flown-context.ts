import { createContext, useContext } from "react";
import { useOutletContext } from "react-router";
import type { Airframe, DirectionTable, ModelDetail } from "../api/client";
import { useDirections } from "../queries/models";
import { ModelContext } from "./model-context";

/** What a card is logged of: how the model is drawn, and how its pilot says every direction. */
export interface Flown {
  airframe: Airframe;
  directions: DirectionTable | undefined;
}

/** Of a sortie, as it is flown: a console needs no model then. */
export const FlownContext = createContext<Flown | null>(null);

/** What a card is logged of: of the sortie where one is given, else of the page's model as it stands. */
export function useFlown(): Flown {
  const given = useContext(FlownContext);
  const near = useContext(ModelContext);
  const ofPage = useOutletContext<ModelDetail | null>();
  const model = given ? null : (near ?? ofPage);
  const asked = useDirections(model);
  if (given) return given;
  if (!model) throw new Error("a card outside of a sortie and of a model");
  return { airframe: model.setup.airframe, directions: asked.data };
}
