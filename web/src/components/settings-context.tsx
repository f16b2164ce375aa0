import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from "react";
import { readSettings, type Settings, unitFor, writeSettings } from "../domain/settings";
import { type Quantity, withUnit } from "../domain/units";

interface SettingsValue {
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
  useEffect(() => {
    writeSettings(settings);
    document.documentElement.dataset.theme = settings.theme;
  }, [settings]);
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

/** The settings; must be used below the provider. */
export function useSettings(): SettingsValue {
  const value = useContext(Context);
  if (!value) throw new Error("useSettings is used outside its provider");
  return value;
}
