//! What a maker is asked where no meter tells: what it does, what is printed, what happens if.

use super::kind::FaultKind;
use super::kind::FaultKind::*;
use super::questions::{Answered, Asked, OddAnswer, OddQuestion, UNKNOWN};
use super::symptoms::Symptom;
use crate::plan::FieldError;

/// Something remembered, something to look at, something to try.
const REMEMBERED: f64 = 0.4;
const LOOKED_AT: f64 = 0.6;
const TRIED: f64 = 1.0;

const fn answer(id: &'static str, says: &'static str, usual: f64, of: &'static [FaultKind]) -> OddAnswer {
    OddAnswer { id, says, usual, of }
}

/// Every question. What is expected of a cause: common practice, no source.
pub(super) const QUESTIONS: &[OddQuestion] = &[
    OddQuestion {
        id: "setting",
        asked: Asked::Of(&[Symptom::DiesAfterSeconds, Symptom::DiesEarly, Symptom::Slow, Symptom::Chatters]),
        says: "In which setting does it happen?",
        trouble: REMEMBERED,
        answers: &[
            answer(
                "every",
                "In every one",
                0.75,
                &[GroupLow, JointResistive, WornCells, TapOpen, TapsSwapped, FuseOpen, LinkOpen, GroupDead],
            ),
            answer(
                "strong",
                "Only in the strongest, or under heavy load",
                0.2,
                &[
                    BoardOverCurrent,
                    JointResistive,
                    CellMissing,
                    WornCells,
                    Cold,
                    ConverterInLimit,
                    FuseTooSmall,
                    BoardHot,
                ],
            ),
            answer("weak", "Only in the weakest", 0.05, &[DeviceCutOut]),
        ],
    },
    OddQuestion {
        id: "at-the-device",
        asked: Asked::Of(&[
            Symptom::DiesAfterSeconds,
            Symptom::DiesEarly,
            Symptom::DropsOutAtChangeOver,
            Symptom::Chatters,
        ]),
        says: "Hold the meter to the device as it stops: what does it show?",
        trouble: TRIED,
        answers: &[
            answer(
                "stays",
                "The voltage stays, but the device stops",
                0.2,
                &[DeviceCutOut, SoftStartLost, ConverterSetWrong, GaugeUnscaled],
            ),
            answer(
                "gone",
                "It falls to nothing at once",
                0.4,
                &[
                    BoardOverCurrent,
                    BoardGroupLow,
                    BoardHot,
                    BoardAsleep,
                    FuseOpen,
                    FuseTooSmall,
                    LinkOpen,
                    SwitchOpen,
                    TapOpen,
                    TapsSwapped,
                    ChangeOverGap,
                ],
            ),
            answer(
                "sags",
                "It sags far, and comes back once it has stopped",
                0.4,
                &[
                    JointResistive,
                    WornCells,
                    Cold,
                    CellMissing,
                    GroupLow,
                    GroupDead,
                    ConverterInLimit,
                    ConverterOutOfHeadroom,
                ],
            ),
        ],
    },
    OddQuestion {
        id: "restarts",
        asked: Asked::Of(&[
            Symptom::Dead,
            Symptom::DiesAfterSeconds,
            Symptom::DiesEarly,
            Symptom::DropsOutAtChangeOver,
            Symptom::Chatters,
        ]),
        says: "After it has stopped, what brings it back?",
        trouble: REMEMBERED,
        answers: &[
            answer(
                "at-once",
                "Switching it off and on",
                0.4,
                &[DeviceCutOut, BoardOverCurrent, ConverterInLimit, JointResistive, ChangeOverGap],
            ),
            answer(
                "rest",
                "A rest of some minutes",
                0.2,
                &[BoardHot, Cold, WornCells, GroupLow, BoardGroupLow, DeviceCutOut],
            ),
            answer("charger", "Only the charger", 0.15, &[BoardGroupLow, BoardAsleep, StandbyDrain]),
            answer(
                "by-itself",
                "It comes back by itself, over and over",
                0.1,
                &[ComparatorChatter, ConverterOutOfHeadroom, SupplyLimiting, JointResistive, ConverterInLimit],
            ),
            answer("nothing", "Nothing", 0.15, &[FuseOpen, LinkOpen, SwitchOpen, FuseTooSmall, Short]),
        ],
    },
    OddQuestion {
        id: "opened-when",
        asked: Asked::OfReadingsOr(&[
            Symptom::Dead,
            Symptom::DiesAfterSeconds,
            Symptom::DiesEarly,
            Symptom::NoOutputUntilCharged,
        ]),
        says: "When did it go off?",
        trouble: REMEMBERED,
        answers: &[
            answer(
                "start",
                "At start-up or under heavy load",
                0.25,
                &[BoardOverCurrent, FuseTooSmall, FuseOpen, Short],
            ),
            answer(
                "end",
                "Towards the end of a run, or after it lay for long",
                0.2,
                &[BoardGroupLow, GroupLow, DeviceCutOut],
            ),
            answer("charge", "While it was charged", 0.1, &[BoardGroupHigh]),
            answer("warm", "After long hard work, or in the cold", 0.1, &[BoardHot, Cold]),
            answer(
                "never-on",
                "It never gave anything",
                0.35,
                &[BoardAsleep, SwitchOpen, LinkOpen, PlugReversed, TapsSwapped, GroupReversed, WrongSideOfBoard],
            ),
        ],
    },
    OddQuestion {
        id: "woken",
        asked: Asked::OfReadingsOr(&[
            Symptom::Dead,
            Symptom::DiesAfterSeconds,
            Symptom::DiesEarly,
            Symptom::NoOutputUntilCharged,
            Symptom::GreenAtOnce,
            Symptom::DropsOutAtChangeOver,
        ]),
        says: "Was a charger plugged in since the board was last connected to the cells?",
        trouble: REMEMBERED,
        answers: &[
            answer("no", "No", 0.3, &[BoardAsleep]),
            answer(
                "yes",
                "Yes",
                0.7,
                &[FuseOpen, SwitchOpen, BoardGroupLow, BoardOverCurrent, BoardHot, BoardGroupHigh],
            ),
        ],
    },
    OddQuestion {
        id: "warmth",
        asked: Asked::OfAnything,
        says: "How warm is the pack?",
        trouble: REMEMBERED,
        answers: &[
            answer("cold", "Below 5 °C", 0.06, &[Cold, BoardHot]),
            answer("mild", "Neither cold nor hot", 0.86, &[WornCells, GroupLow]),
            answer("hot", "Too hot to keep a hand on", 0.08, &[BoardHot]),
        ],
    },
    OddQuestion {
        id: "faded",
        asked: Asked::OfAnything,
        says: "Was it good at first and got worse over months?",
        trouble: LOOKED_AT,
        answers: &[
            answer("yes", "Yes, slowly", 0.12, &[WornCells]),
            answer(
                "sudden",
                "It was good, then suddenly not",
                0.38,
                &[FuseOpen, LinkOpen, Short, BoardOverCurrent, BoardHot, TapOpen, SwitchOpen, GroupDead],
            ),
            answer(
                "never",
                "It was never right",
                0.5,
                &[
                    DeviceCutOut,
                    TapsSwapped,
                    GroupReversed,
                    PlugReversed,
                    ConverterSetWrong,
                    ChargerOtherCount,
                    GaugeUnscaled,
                    GaugeUnfed,
                    FuseTooSmall,
                    WrongSideOfBoard,
                    CellMissing,
                    BoardAsleep,
                    SoftStartLost,
                    ChargerWeak,
                    SupplyLimiting,
                ],
            ),
        ],
    },
    OddQuestion {
        id: "where-hot",
        asked: Asked::Of(&[Symptom::Hot]),
        says: "Where is it hot?",
        trouble: REMEMBERED,
        answers: &[
            answer("joint", "One joint, plug or wire", 0.2, &[JointResistive, Short]),
            answer("group", "The cells of one group", 0.1, &[CellMissing, GroupLow, GroupReversed, GroupDead]),
            answer("cells", "All cells alike", 0.2, &[WornCells, Short]),
            answer("converter", "The converter", 0.2, &[ConverterInLimit, ConverterOutOfHeadroom, ConverterSetWrong]),
            answer("board", "The board", 0.15, &[WrongSideOfBoard, BoardHot, TapsSwapped, ChargerReversed]),
            answer(
                "charger",
                "The charger or what feeds it",
                0.15,
                &[ChargerReversed, SupplyLimiting, ChargerOtherCount, ChargerWeak],
            ),
        ],
    },
    OddQuestion {
        id: "blows-when",
        asked: Asked::Of(&[Symptom::FuseBlows]),
        says: "When does the fuse blow?",
        trouble: REMEMBERED,
        answers: &[
            answer("joined", "The moment it goes in, all switched off", 0.2, &[Short]),
            answer("switched-on", "As it is switched on", 0.3, &[SoftStartLost, PlugReversed, Short]),
            answer("later", "After some time of running", 0.5, &[FuseTooSmall]),
        ],
    },
    OddQuestion {
        id: "jerk",
        asked: Asked::Of(&[Symptom::FuseBlows]),
        says: "Does the motor start with a jerk where it used to start gently?",
        trouble: REMEMBERED,
        answers: &[
            answer("yes", "Yes", 0.1, &[SoftStartLost]),
            answer("no", "No", 0.9, &[FuseTooSmall, Short, PlugReversed]),
        ],
    },
    OddQuestion {
        id: "feed-voltage",
        asked: Asked::Of(&[
            Symptom::LampFlickers,
            Symptom::NeverGreen,
            Symptom::NeverFull,
            Symptom::ChargesSlowly,
            Symptom::Chatters,
        ]),
        says: "Read what feeds the charger while it charges: does its voltage hold?",
        trouble: LOOKED_AT,
        answers: &[
            answer("falls", "It falls, or falls and comes back", 0.15, &[SupplyLimiting]),
            answer(
                "holds",
                "It holds",
                0.85,
                &[ChargerWeak, JointResistive, ChargerOtherCount, BoardGroupHigh, TapOpen],
            ),
        ],
    },
    OddQuestion {
        id: "stronger-feed",
        asked: Asked::Of(&[Symptom::LampFlickers, Symptom::NeverGreen, Symptom::NeverFull, Symptom::ChargesSlowly]),
        says: "Feed the charger from a stronger supply or a shorter lead: is it still so?",
        trouble: LOOKED_AT,
        answers: &[
            answer("gone", "No, it is gone", 0.15, &[SupplyLimiting]),
            answer(
                "same",
                "Yes, it is the same",
                0.85,
                &[ChargerWeak, JointResistive, ChargerOtherCount, BoardGroupHigh, GroupLow],
            ),
        ],
    },
    OddQuestion {
        id: "charge-ends",
        asked: Asked::Of(&[Symptom::NeverFull, Symptom::NeverGreen, Symptom::DiesEarly, Symptom::ChargesSlowly]),
        says: "How does the charge end?",
        trouble: LOOKED_AT,
        answers: &[
            answer(
                "green-low",
                "Green, with the pack below full",
                0.3,
                &[ChargerOtherCount, JointResistive, WornCells],
            ),
            answer(
                "red-stops",
                "No current any more, but the lamp does not change",
                0.2,
                &[BoardGroupHigh, TapOpen, TapsSwapped, BoardHot, LinkOpen],
            ),
            answer(
                "on-and-on",
                "It does not end",
                0.3,
                &[ChargerWeak, GroupLow, StandbyDrain, SupplyLimiting, GroupDead, CellMissing],
            ),
            answer("right", "As it should", 0.2, &[]),
        ],
    },
    OddQuestion {
        id: "charger-label",
        asked: Asked::Of(&[
            Symptom::GreenAtOnce,
            Symptom::NeverGreen,
            Symptom::NeverFull,
            Symptom::ChargesSlowly,
            Symptom::DiesEarly,
        ]),
        says: "What end voltage is printed on the charger, or read at its open plug?",
        trouble: LOOKED_AT,
        answers: &[
            answer("planned", "The pack’s full voltage", 0.92, &[ChargerWeak, SupplyLimiting, BoardGroupHigh]),
            answer("other", "Another one", 0.08, &[ChargerOtherCount]),
        ],
    },
    OddQuestion {
        id: "groups-when-charged",
        asked: Asked::Of(&[Symptom::NeverFull, Symptom::GreenAtOnce, Symptom::NeverGreen]),
        says: "As the charge stops, is one group well above the others?",
        trouble: TRIED,
        answers: &[
            answer("above", "Yes, one is at its limit", 0.15, &[BoardGroupHigh, TapsSwapped, TapOpen]),
            answer(
                "even",
                "No, all are much alike",
                0.85,
                &[ChargerOtherCount, SupplyLimiting, ChargerWeak, JointResistive],
            ),
        ],
    },
    OddQuestion {
        id: "gauge-does",
        asked: Asked::Of(&[Symptom::GaugeStuck, Symptom::GaugeWrong]),
        says: "What does the gauge do between full and empty?",
        trouble: REMEMBERED,
        answers: &[
            answer("nothing", "Nothing at all", 0.3, &[GaugeUnfed]),
            answer("shifted", "It moves, but stands too high or too low", 0.7, &[GaugeUnscaled]),
        ],
    },
    OddQuestion {
        id: "fell",
        asked: Asked::Of(&[Symptom::FlatAfterAWeek]),
        says: "Left standing, which groups fell?",
        trouble: LOOKED_AT,
        answers: &[
            answer("all", "All alike", 0.5, &[StandbyDrain, GaugeUnfed, WrongSideOfBoard, WornCells]),
            answer("one", "One more than the others", 0.5, &[GroupLow, GroupDead]),
        ],
    },
    OddQuestion {
        id: "off-current",
        asked: Asked::Of(&[Symptom::FlatAfterAWeek]),
        says: "With all switched off, does the pack still give more than a milliampere?",
        trouble: TRIED,
        answers: &[
            answer("yes", "Yes", 0.2, &[StandbyDrain, GaugeUnfed]),
            answer("no", "No", 0.8, &[GroupLow, WornCells, GroupDead]),
        ],
    },
    OddQuestion {
        id: "what-clicks",
        asked: Asked::Of(&[Symptom::Chatters]),
        says: "What clicks or pulses?",
        trouble: LOOKED_AT,
        answers: &[
            answer(
                "change-over",
                "The change-over, the relay or the cut-off",
                0.3,
                &[ComparatorChatter, ChangeOverGap],
            ),
            answer("converter", "The converter, or what it feeds", 0.3, &[ConverterOutOfHeadroom, ConverterInLimit]),
            answer("charger", "The charger", 0.2, &[SupplyLimiting, ChargerWeak]),
            answer("device", "The device itself", 0.2, &[DeviceCutOut, GroupLow, JointResistive, WornCells]),
        ],
    },
    OddQuestion {
        id: "converter-full",
        asked: Asked::OfReadingsOr(&[
            Symptom::Dead,
            Symptom::DiesAfterSeconds,
            Symptom::DiesEarly,
            Symptom::Slow,
            Symptom::Hot,
            Symptom::Chatters,
            Symptom::StartsHard,
        ]),
        says: "With the pack full, does the converter hold its voltage under load?",
        trouble: TRIED,
        answers: &[
            answer("yes", "Yes", 0.6, &[ConverterOutOfHeadroom, WornCells, Cold, GroupLow]),
            answer("no", "No", 0.4, &[ConverterInLimit, ConverterSetWrong, JointResistive]),
        ],
    },
    OddQuestion {
        id: "converter-alone",
        asked: Asked::OfReadingsOr(&[
            Symptom::Dead,
            Symptom::DiesAfterSeconds,
            Symptom::DiesEarly,
            Symptom::Slow,
            Symptom::Hot,
            Symptom::Chatters,
            Symptom::StartsHard,
        ]),
        says: "With nothing on its output, does the converter read what it should?",
        trouble: TRIED,
        answers: &[
            answer("yes", "Yes", 0.9, &[ConverterInLimit, ConverterOutOfHeadroom]),
            answer("no", "No", 0.1, &[ConverterSetWrong]),
        ],
    },
    OddQuestion {
        id: "wire-moved",
        asked: Asked::Of(&[
            Symptom::DisplayDances,
            Symptom::LampFlickers,
            Symptom::DiesAfterSeconds,
            Symptom::Slow,
            Symptom::Dead,
            Symptom::Chatters,
        ]),
        says: "Does it change when a wire or plug is moved?",
        trouble: TRIED,
        answers: &[
            answer("yes", "Yes", 0.1, &[JointResistive, TapOpen, LinkOpen]),
            answer("no", "No", 0.9, &[MeterScale, ComparatorChatter, SupplyLimiting, MeterRange]),
        ],
    },
    OddQuestion {
        id: "meter-set",
        asked: Asked::OfReadingsOr(&[Symptom::DisplayDances]),
        says: "How is the meter set?",
        trouble: REMEMBERED,
        answers: &[
            answer("right", "DC voltage, red in the voltage socket", 0.94, &[MeterScale, LeadsSwapped]),
            answer("range", "Another range", 0.03, &[MeterRange]),
            answer("socket", "Red in a socket for amperes", 0.03, &[LeadSocket]),
        ],
    },
    OddQuestion {
        id: "meter-battery",
        asked: Asked::OfReadingsOr(&[Symptom::DisplayDances, Symptom::NeverFull]),
        says: "Does the meter show its battery sign, or read a fresh cell wrong?",
        trouble: LOOKED_AT,
        answers: &[answer("yes", "Yes", 0.04, &[MeterScale]), answer("no", "No", 0.96, &[])],
    },
    OddQuestion {
        id: "minus-joined",
        asked: Asked::OfReadingsOr(&[
            Symptom::BoardNeverOpens,
            Symptom::FlatAfterAWeek,
            Symptom::Hot,
            Symptom::FuseBlows,
        ]),
        says: "Do the minus of the device and of the charger both end at the board’s output, and none at the cells?",
        trouble: LOOKED_AT,
        answers: &[
            answer("yes", "Yes", 0.9, &[TapOpen, TapsSwapped]),
            answer("no", "No, one ends at the cells", 0.1, &[WrongSideOfBoard]),
        ],
    },
];

/// Every question that may be asked.
pub fn odd_questions() -> &'static [OddQuestion] {
    QUESTIONS
}

/// Question and answer of each that was given; `None` where it cannot be said.
///
/// Refuses what is no question, no answer to it, and one that was given before.
pub(super) fn given(answers: &[Answered]) -> Result<Vec<(&'static OddQuestion, Option<usize>)>, Vec<FieldError>> {
    let (mut found, mut errors) = (vec![], vec![]);
    for (i, a) in answers.iter().enumerate() {
        let mut refuse =
            |field: &str, message: String| errors.push(FieldError { field: format!("/answers/{i}/{field}"), message });
        let Some(question) = QUESTIONS.iter().find(|q| q.id == a.question) else {
            let known: Vec<&str> = QUESTIONS.iter().map(|q| q.id).collect();
            refuse("question", format!("“{}” is none of {}", a.question, known.join(", ")));
            continue;
        };
        if answers[..i].iter().any(|b| b.question == a.question) {
            refuse("question", format!("“{}” was answered before", a.question));
            continue;
        }
        let index = question.answers.iter().position(|b| b.id == a.answer);
        if index.is_none() && a.answer != UNKNOWN {
            let known: Vec<&str> = question.answers.iter().map(|b| b.id).chain([UNKNOWN]).collect();
            refuse("answer", format!("“{}” is none of {}", a.answer, known.join(", ")));
            continue;
        }
        found.push((question, index));
    }
    if errors.is_empty() { Ok(found) } else { Err(errors) }
}
