import { useOutletContext } from "react-router";
import type { ModelDetail } from "../api/client";

/** The model every place of the loop works on, loaded by the shell. */
export function useTheModel(): ModelDetail {
  return useOutletContext<ModelDetail>();
}
