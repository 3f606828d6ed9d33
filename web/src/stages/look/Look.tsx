import { useEffect } from "react";
import { useStudy } from "../../study/useStudy";
import { PictureLook } from "./PictureLook";
import { TonesLook } from "./TonesLook";

/** Look: what is there to see, in the picture or, without one, in tones. */
export function Look() {
  const { study } = useStudy();
  useEffect(() => {
    document.title = `${study.state.title} · Look · Caltin`;
  }, [study.state.title]);
  return study.picture ? <PictureLook picture={study.picture} /> : <TonesLook />;
}
