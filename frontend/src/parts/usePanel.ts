import type { Panel } from "../view/session";
import { useEditing, useSession } from "./editing";

/** Whether a sheet of the editor is open, and what opens and closes it. For a `DialogTrigger` or an overlay. */
export function usePanel(panel: Panel): { isOpen: boolean; onOpenChange: (open: boolean) => void } {
  const { session } = useEditing();
  const isOpen = useSession((state) => state.panel === panel);
  return {
    isOpen,
    onOpenChange: (open) => {
      if (open) session.setState({ panel });
      else if (session.getState().panel === panel) session.setState({ panel: null });
    },
  };
}
