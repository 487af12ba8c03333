import { useState } from "react";
import { Dialog, DialogTrigger, Heading, Modal, ModalOverlay } from "react-aria-components";
import styled from "styled-components";
import type { Job } from "../api/events";
import { Button, SmallButton } from "../parts/Button";

/** The film or the picture that a job has written, large. */
export function LookAtIt({ job }: { job: Job }) {
  const [said, setSaid] = useState("");
  const address = `/api/jobs/${job.id}/seen`;
  const fail = () => setSaid("This browser does not play it. Save the file and look at it with another program.");
  return (
    <DialogTrigger>
      <SmallButton>Look at it</SmallButton>
      <Overlay isDismissable>
        <Modal>
          <Sheet>
            {({ close }) => (
              <>
                <Heading slot="title">{job.name}</Heading>
                {job.seen_as === "film" ? (
                  // biome-ignore lint/a11y/useMediaCaption: a rendered film has no sound
                  <video src={address} controls autoPlay loop onError={fail} aria-label={job.name} />
                ) : (
                  <img src={address} alt={job.name} onError={fail} />
                )}
                {said && <p role="alert">{said}</p>}
                <Button onPress={close}>Close</Button>
              </>
            )}
          </Sheet>
        </Modal>
      </Overlay>
    </DialogTrigger>
  );
}

const Overlay = styled(ModalOverlay)`
  position: fixed; inset: 0; z-index: 100001; display: grid; place-items: center; background: rgb(24 37 48 / 0.45);
`;
const Sheet = styled(Dialog)`
  display: grid; gap: 10px; justify-items: start; padding: 14px 18px; outline: none; max-width: 92vw;
  background: var(--card); color: var(--ink); border: 1px solid var(--line); border-radius: 3px;
  & > h2 { margin: 0; font-size: 15px; }
  & > img, & > video { display: block; max-width: 88vw; max-height: 74vh; background: var(--outside); }
`;
