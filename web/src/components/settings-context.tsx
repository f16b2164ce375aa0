import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useState,
  useSyncExternalStore,
} from "react";
import { readSettings, type Settings, unitFor, writeSettings } from "../domain/settings";
import { type Quantity, withUnit } from "../domain/units";

export interface SettingsValue {
  settings: Settings;
  change: (part: Partial<Settings>) => void;
  setUnit: (quantity: Quantity, unit: string) => void;
  unit: (quantity: Quantity) => string;
  show: (value: number | null | undefined, quantity: Quantity, extraDigits?: number) => string;
}

const Context = createContext<SettingsValue | null>(null);

/** Units, theme and last model for the whole application. */
export function SettingsProvider({ children }: { children: ReactNode }) {
  const [settings, setSettings] = useState(readSettings);
  const dark = useDeviceDark();
  useEffect(() => writeSettings(settings), [settings]);
  useEffect(() => {
    const night = settings.theme === "device" ? dark : settings.theme === "night";
    document.documentElement.dataset.theme = night ? "night" : "paper";
  }, [settings.theme, dark]);
  const change = useCallback((part: Partial<Settings>) => setSettings((s) => ({ ...s, ...part })), []);
  const setUnit = useCallback(
    (quantity: Quantity, key: string) => setSettings((s) => ({ ...s, units: { ...s.units, [quantity]: key } })),
    [],
  );
  const value = useMemo<SettingsValue>(() => {
    const unit = (quantity: Quantity) => unitFor(settings, quantity);
    return {
      settings,
      change,
      setUnit,
      unit,
      show: (value, quantity, extraDigits) => withUnit(value, quantity, unit(quantity), extraDigits),
    };
  }, [settings, change, setUnit]);
  return <Context value={value}>{children}</Context>;
}

const DARK = "(prefers-color-scheme: dark)";

/** Whether the device shows itself dark now; it may change with the hour. */
function useDeviceDark(): boolean {
  const listen = useCallback((heard: () => void) => {
    const media = window.matchMedia?.(DARK);
    media?.addEventListener("change", heard);
    return () => media?.removeEventListener("change", heard);
  }, []);
  return useSyncExternalStore(listen, () => window.matchMedia?.(DARK).matches ?? false);
}

/** The settings; must be used below the provider. */
export function useSettings(): SettingsValue {
  const value = useContext(Context);
  if (!value) throw new Error("useSettings is used outside its provider");
  return value;
}
