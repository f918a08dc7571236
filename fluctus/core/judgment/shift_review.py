"""The four questions before limits are recalculated, and what their answers advise.

Source: D. J. Wheeler, "When do I recalculate my limits?", *Quality Digest* (May
1996); D. J. Wheeler, *Making Sense of Data* (SPC Press, 2003).
"""

from collections.abc import Mapping
from enum import StrEnum


class Question(StrEnum):
    """What to ask where a process seems to have shifted, in the order of asking."""

    DIFFERENT = "different"
    REASON_KNOWN = "reason_known"
    WANTED = "wanted"
    LASTING = "lasting"


class Answer(StrEnum):
    """What is answered."""

    YES = "yes"
    NO = "no"
    UNSURE = "unsure"


IF_NOT = {
    Question.DIFFERENT: "Points that behave as before need no new limits: keep them.",
    Question.REASON_KNOWN: "Find the reason first: new limits would only hide the question.",
    Question.WANTED: "Work on the reason rather than on the limits: keep them until it is gone.",
    Question.LASTING: "What does not last is no new process: keep the limits, set points aside.",
}
IF_UNSURE = {
    Question.DIFFERENT: "Wait for a few more points: a shift grows plainer with each.",
    Question.REASON_KNOWN: "Ask the people who run the process before you recalculate.",
    Question.WANTED: "Settle whether this is wanted before it becomes the level to expect.",
    Question.LASTING: "Wait until it is plain whether it stays; limits can be recalculated later.",
}


def advise_shift(answers: Mapping[Question, Answer]) -> str:
    """Say what the answers so far advise: the first that is not yes decides."""
    for wanted, words in ((Answer.NO, IF_NOT), (Answer.UNSURE, IF_UNSURE)):
        for question in Question:
            if answers.get(question) is wanted:
                return words[question]
    missing = len(Question) - len(answers)
    if missing:
        return "Four times yes speaks for recalculating; whatever else, for keeping the limits."
    return "All four speak for recalculating from here."
