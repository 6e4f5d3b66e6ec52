/** A team's own tablet. It follows what the team is at by itself, and knows nobody's name but those it is told. */
import { ChooseTeam } from "./ChooseTeam";
import { Stage } from "./Stages";
import { TeamFrame } from "./TeamFrame";
import { placeOf } from "./page";

export default function TeamPage() {
  return (
    <TeamFrame>
      {({ page, at }) =>
        page.stage === "choose" ? (
          <ChooseTeam page={page} />
        ) : (
          <Stage key={placeOf(page)} page={page} at={at} place={placeOf(page)} />
        )
      }
    </TeamFrame>
  );
}
