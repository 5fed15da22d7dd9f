/** A word on what was done, in passing; what went wrong stays where it happened (see `Problem`). */
import { App } from "antd";
import { useCallback } from "react";

export function useSaid(): (words: string) => void {
  const { message } = App.useApp();
  return useCallback((words: string) => void message.success?.(words), [message]);
}
