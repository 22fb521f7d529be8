import { useSnackbar } from "notistack";
import { useEffect } from "react";
import { useWork, type Work } from "./useWork";

/** Long work that goes on beside others of a sheet: what went wrong is told at the page's foot. */
export function useToldWork(failed: string): Omit<Work, "refusal" | "refuse"> {
  const { enqueueSnackbar } = useSnackbar();
  const { refusal, refuse, ...work } = useWork(failed);
  useEffect(() => {
    if (!refusal) return;
    enqueueSnackbar(refusal, { variant: "error" });
    refuse("");
  }, [refusal, refuse, enqueueSnackbar]);
  return work;
}
