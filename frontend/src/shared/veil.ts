/** Whether faces are veiled, for showing in class: on every page, until it is taken off. */
import { storedSwitch } from "./storedSwitch";

export const { isOn: isVeiled, set: setVeil, useIt: useVeil } = storedSwitch("sulvet-veil");
