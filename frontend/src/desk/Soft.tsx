import { styled, Typography } from "@mui/material";

/** Second text. */
export const Soft = styled(Typography)(({ theme }) => ({ color: theme.palette.text.secondary }));
