import { Dialog, DialogContent, DialogTitle, Table, TableBody, TableCell, TableRow } from "@mui/material";
import { KEYS } from "./hotkeys";
import { usePicked } from "./state";

export function KeySheet() {
  const { keySheet, set } = usePicked("keySheet", "set");
  return (
    <Dialog open={keySheet} onClose={() => set({ keySheet: false })}>
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        <Table size="small">
          <TableBody>
            {KEYS.map(([keys, what]) => (
              <TableRow key={keys}>
                <TableCell sx={{ fontWeight: 700, whiteSpace: "nowrap" }}>{keys}</TableCell>
                <TableCell>{what}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
    </Dialog>
  );
}
