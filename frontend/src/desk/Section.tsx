import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Soft } from "./Soft";

/** A titled part of a side panel. */
export function Section({
  title,
  aside,
  children,
}: {
  title: string;
  aside?: ReactNode;
  children: ReactNode;
}) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{ px: 1.5, py: 1.25, borderBottom: 1, borderColor: "divider" }}
    >
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center", minHeight: 26 }}>
        <Typography component="h2" sx={{ fontWeight: 700, fontSize: 13 }}>
          {title}
        </Typography>
        {aside}
      </Box>
      {children}
    </Box>
  );
}

/** What to do next, where there is nothing yet. */
export function Hollow({ children }: { children: ReactNode }) {
  return <Soft sx={{ py: 0.5, fontSize: 13 }}>{children}</Soft>;
}
