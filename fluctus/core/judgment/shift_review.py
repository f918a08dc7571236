"""The four questions before limits are recalculated, and what their answers advise.

Source: D. J. Wheeler, "When do I recalculate my limits?", *Quality Digest* (May
1996); D. J. Wheeler, *Making Sense of Data* (SPC Press, 2003).
"""

from collections.abc import Mapping
from enum import StrEnum


class ReviewQuestion(StrEnum):
    """What to ask where a process seems to have shifted, in the order of asking."""

    DIFFERENT = "different"
    REASON_KNOWN = "reason_known"
    WANTED = "wanted"
    LASTING = "lasting"


class ReviewAnswer(StrEnum):
    """What is answered."""

    YES = "yes"
    NO = "no"
    UNSURE = "unsure"


IF_NOT = {
    ReviewQuestion.DIFFERENT: "Points that behave as before need no new limits: keep them.",
    ReviewQuestion.REASON_KNOWN: "Find the reason first: new limits would only hide the question.",
    ReviewQuestion.WANTED: "Work on the reason, not on the limits: keep them until it is gone.",
    ReviewQuestion.LASTING: "What does not last is no new process: keep limits, set points aside.",
}
IF_UNSURE = {
    ReviewQuestion.DIFFERENT: "Wait for a few more points: a shift grows plainer with each.",
    ReviewQuestion.REASON_KNOWN: "Ask the people who run the process before you recalculate.",
    ReviewQuestion.WANTED: "Settle whether this is wanted before it becomes the level to expect.",
    ReviewQuestion.LASTING: "Wait until it is plain whether it stays; limits can follow later.",
}


def advise_shift(answers: Mapping[ReviewQuestion, ReviewAnswer]) -> str:
    """Describe what the answers so far advise: the first that is not yes decides."""
    for answer, words in ((ReviewAnswer.NO, IF_NOT), (ReviewAnswer.UNSURE, IF_UNSURE)):
        for question in ReviewQuestion:
            if answers.get(question) is answer:
                return words[question]
    missing = len(ReviewQuestion) - len(answers)
    if missing:
        return "Four times yes speaks for recalculating; whatever else, for keeping the limits."
    return "All four speak for recalculating from here."
