import { useEffect } from "react";
import { useSettings } from "../../parts/settings";

/** Voices that lie on this machine; others would send the words away. */
export const localVoices = () =>
  typeof speechSynthesis === "undefined" ? [] : speechSynthesis.getVoices().filter((v) => v.localService);

/** Say a step aloud whenever another one is due, where the artist wants it. */
export function useVoice(words: string): void {
  const { spoken } = useSettings();
  useEffect(() => {
    const voice = spoken && words ? localVoices().find((v) => v.lang.startsWith("en")) : undefined;
    if (!voice) return;
    const said = new SpeechSynthesisUtterance(words);
    said.voice = voice;
    speechSynthesis.cancel();
    speechSynthesis.speak(said);
    return () => speechSynthesis.cancel();
  }, [spoken, words]);
}
