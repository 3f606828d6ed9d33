import { useEffect, useMemo, useState } from "react";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { WhiteFilter } from "./parts/ScreenWhite";
import { SettingsContext, store, stored } from "./parts/settings";
import { Compare } from "./stages/compare/Compare";
import { Draw } from "./stages/draw/Draw";
import { Keep } from "./stages/keep/Keep";
import { Coverage } from "./stages/kit/Coverage";
import { Kit } from "./stages/kit/Kit";
import { Sheets } from "./stages/kit/Sheets";
import { Layer } from "./stages/layer/Layer";
import { Library } from "./stages/library/Library";
import { Look } from "./stages/look/Look";
import { Match } from "./stages/match/Match";
import { Shelf } from "./stages/shelf/Shelf";
import { StudyFrame } from "./study/StudyFrame";

export function App() {
  const [settings, setSettings] = useState(stored);
  useEffect(() => {
    store(settings);
    document.documentElement.dataset.wall = settings.wall;
    document.documentElement.style.filter = settings.white ? "url(#sheet-white)" : "";
  }, [settings]);
  const door = useMemo(
    () => ({
      ...settings,
      set: (some: Partial<typeof settings>) => setSettings((now) => ({ ...now, ...some })),
    }),
    [settings],
  );
  return (
    <SettingsContext.Provider value={door}>
      {settings.white && <WhiteFilter white={settings.white} />}
      <BrowserRouter>
        <Routes>
          <Route path="/" element={<Shelf />} />
          <Route path="/compare" element={<Compare />} />
          <Route path="/library" element={<Library />} />
          <Route path="/kits/:id" element={<Kit />} />
          <Route path="/kits/:id/serves" element={<Coverage />} />
          <Route path="/kits/:id/sheets" element={<Sheets />} />
          <Route path="/studies/:id" element={<StudyFrame />}>
            <Route index element={<Navigate to="look" replace />} />
            <Route path="look" element={<Look />} />
            <Route path="match" element={<Match />} />
            <Route path="layer" element={<Layer />} />
            <Route path="draw" element={<Draw />} />
            <Route path="keep" element={<Keep />} />
          </Route>
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </BrowserRouter>
    </SettingsContext.Provider>
  );
}
