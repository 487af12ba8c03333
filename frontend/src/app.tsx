import { useEffect } from "react";
import { listen } from "./api/events";
import { Editor } from "./editor";
import { Home } from "./home/Home";
import { Away } from "./parts/Away";
import { useAddress } from "./parts/address";
import { Messages } from "./parts/Messages";

/** What is shown follows from the address: home, or one shot in the editor. */
export function App() {
  const { path } = useAddress();
  const shot = /^\/shots\/([A-Za-z0-9_-]{1,40})$/.exec(path)?.[1];
  useEffect(() => {
    if (!shot) document.title = "Wind Sock";
  }, [shot]);
  useEffect(() => listen(), []);
  return (
    <>
      {shot ? <Editor key={shot} shotId={shot} /> : <Home />}
      <Away />
      <Messages />
    </>
  );
}
