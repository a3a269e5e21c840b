import { IconButton, Tooltip } from "@mui/material";
import type { ReactNode } from "react";

type Props = {
  name: string;
  keys?: string;
  disabled?: boolean;
  pressed?: boolean;
  children: ReactNode;
  onClick: () => void;
};

/** An icon button with its name and key in a tooltip, and its name for a screen reader. */
export function Action({ name, keys, disabled, pressed, children, onClick }: Props) {
  return (
    <Tooltip title={keys ? `${name} (${keys})` : name}>
      <span>
        <IconButton
          aria-label={name}
          aria-pressed={pressed}
          disabled={disabled ?? false}
          color={pressed ? "primary" : "default"}
          onClick={onClick}
          sx={{ borderRadius: 1, bgcolor: pressed ? "action.selected" : undefined }}
        >
          {children}
        </IconButton>
      </span>
    </Tooltip>
  );
}
