import { Box } from "@mui/material";
import { Suspense } from "react";
import { Navigate, Route, Routes } from "react-router";
import { useVisitor } from "../api/door";
import { later } from "../ui/later";
import { NoticeLine } from "../ui/notice";
import { AlarmBar } from "./AlarmBar";
import { MachineBar } from "./MachineBar";
import { ShelfStrip } from "./ShelfStrip";
import { ShowPage } from "./ShowPage";
import { UnsentBar } from "./UnsentBar";

const EnterCode = later(() => import("../features/door/EnterCode").then((part) => part.EnterCode));
const ShelfView = later(() => import("../features/shelf/ShelfView").then((part) => part.ShelfView));

/** All shows, or one of them at one of its steps. */
export function App() {
  const visitor = useVisitor();
  if (visitor.data?.visitor === null)
    return (
      <Suspense>
        <EnterCode />
      </Suspense>
    );
  return (
    <Routes>
      <Route path="/" element={<Home />} />
      <Route path="/shows/:show/:step" element={<ShowPage />} />
      <Route path="/shows/:show" element={<Navigate to="rig" replace />} />
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}

function Home() {
  return (
    <Box sx={{ display: "flex", flexDirection: "column", height: "100dvh" }}>
      <ShelfStrip />
      <MachineBar />
      <AlarmBar />
      <UnsentBar />
      <Suspense fallback={<Box sx={{ flex: 1 }} />}>
        <ShelfView />
      </Suspense>
      <NoticeLine />
    </Box>
  );
}
