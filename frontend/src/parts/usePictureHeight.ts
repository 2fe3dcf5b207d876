import { useEffect, useState } from "react";

const LEAST = 250;
const MOST = 460;
/** What stands above and below the pictures on the bench at its least height. [px] */
const REST = 550;

/** Narrower, the page scrolls and the pictures stay low. [px] */
const NARROW = 768;

const fitting = () =>
  window.innerWidth < NARROW ? LEAST : Math.min(MOST, Math.max(LEAST, window.innerHeight - REST));

/** How high the bench's pictures are: they take what a tall window has over. [px] */
export function usePictureHeight(): number {
  const [height, setHeight] = useState(fitting);
  useEffect(() => {
    const measure = () => setHeight(fitting());
    window.addEventListener("resize", measure);
    return () => window.removeEventListener("resize", measure);
  }, []);
  return height;
}
