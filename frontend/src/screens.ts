/** Screens that come in a file of their own, by path. */
import { lazy, type ComponentType } from "react";
import { matchPath } from "react-router";

type Loader = () => Promise<{ default: ComponentType }>;

const SCREENS: Record<string, Loader> = {
  "/students/:id/then-and-now": () => import("./thennow/ThenNowScreen"),
  "/clips": () => import("./clips/ClipsScreen"),
  "/sectionals": () => import("./sectionals/SectionalsScreen"),
  "/reeds": () => import("./reeds/ReedsScreen"),
  "/close-ups/:id": () => import("./closeups/CloseUpScreen"),
  "/records": () => import("./records/RecordsScreen"),
  "/takes/:id": () => import("./bench/BenchScreen"),
  "/hand": () => import("./hand/HandScreen"),
  "/standards/:instrument?": () => import("./standards/StandardsScreen"),
  "/lessons": () => import("./lessons/LessonsScreen"),
  "/lessons/:id": () => import("./lessons/LadderScreen"),
  "/drills": () => import("./lessons/DrillsScreen"),
  "/routines/:id": () => import("./lessons/RoutineScreen"),
  "/eye": () => import("./eye/EyeScreen"),
  "/eye/rounds/:id": () => import("./eye/RoundScreen"),
  "/eye/pairs/:instrument": () => import("./eye/PairsScreen"),
  "/eye/gallery/:instrument": () => import("./eye/GalleryScreen"),
  "/help": () => import("./help/HelpScreen"),
  "/settings": () => import("./settings/SettingsScreen"),
};

interface Screen {
  path: string;
  load: Loader;
  Component: ComponentType;
}

export const screens: Screen[] = Object.entries(SCREENS).map(([path, load]) => ({
  path,
  load,
  Component: lazy(load),
}));

/**
 * Fetch the screen that an address asks for, before anything is shown: where React has shown a
 * placeholder, it leaves it in place for 300 ms.
 */
export async function preloadScreen(address: string): Promise<void> {
  const screen = screens.find(({ path }) => matchPath(path, address));
  try {
    if (screen) screen.Component = (await screen.load()).default;
  } catch {
    // It is asked for again when it is shown, and says then what is wrong.
  }
}
