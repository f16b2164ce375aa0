import { createContext, useContext } from "react";
import { useOutletContext } from "react-router";
import type { ModelDetail } from "../api/client";

/** A model for what stands outside the model's own pages. */
export const ModelContext = createContext<ModelDetail | null>(null);

/** The model of the page; must be used below a model's shell, or below a ModelContext. */
export function useTheModel(): ModelDetail {
  const given = useContext(ModelContext);
  const ofPage = useOutletContext<ModelDetail>();
  return given ?? ofPage;
}
