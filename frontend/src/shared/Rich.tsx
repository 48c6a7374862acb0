/** A sentence with parts that are more than text: `<strong>so</strong>` in it is `parts.strong`. */
import type { ReactElement } from "react";
import { Trans } from "react-i18next";
import { t } from "./words";

interface Props {
  text: string;
  values?: Record<string, unknown>;
  parts: Record<string, ReactElement>;
}

export function Rich({ text, values = {}, parts }: Props) {
  return (
    <Trans
      t={t}
      i18nKey={text}
      values={values}
      components={parts}
      // A name with a < in it stays a name.
      tOptions={{ interpolation: { escapeValue: true } }}
      shouldUnescape
    />
  );
}
