import { useLayoutEffect } from "react";
import { NavigationType, useLocation, useNavigationType } from "react-router";

/** A page that is gone to begins at its top, unless a part of it was meant; going back leaves it to
 * the browser, which knows where one was. */
export function useTop() {
  const { pathname, hash } = useLocation();
  const isBack = useNavigationType() === NavigationType.Pop;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each page
  useLayoutEffect(() => {
    if (!isBack && hash === "") window.scrollTo({ top: 0 });
  }, [pathname]);
}
