//! Where formulas and figures come from. Figures and findings cite a key; the text stands here once.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Key of a source of a formula or a threshold.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Source {
    /// Follows from the definitions alone.
    Arithmetic,
    /// What the maker typed.
    Plan,
    /// The part's own stated figure.
    PartSheet,
    /// Habit of the trade; not published.
    CommonPractice,
    /// Chosen by this program, with its reason.
    Assumed,
    /// Ohm's and Kirchhoff's laws.
    CircuitLaw,
    /// Scaling laws of fans and pumps.
    FanLaws,
    /// IEC 62133-2.
    Iec62133,
    /// IEC 62368-1.
    Iec62368,
    /// IEC 61960-3.
    Iec61960,
    /// IEC 60028.
    Iec60028,
    /// ASTM B258.
    AstmB258,
    /// IEC 60228.
    Iec60228,
    /// IEC 60364-4-43.
    Iec60364,
    /// ISO 8820-3.
    Iso8820,
    /// IEC 60127-2.
    Iec60127,
    /// Handbook of chemistry and physics: resistivity and heat capacity of metals.
    MetalsHandbook,
    /// Churchill and Chu 1975, free convection from a horizontal cylinder.
    ChurchillChu,
    /// Chen et al. 2020, open-circuit curve of a nickel-rich cell.
    Chen2020,
    /// Ai et al. 2020, open-circuit curve of a cobalt pouch.
    Ai2020,
    /// Prada et al. 2013 and Afshar et al. 2017, open-circuit curve of a phosphate cell.
    Prada2013,
    /// IATA dangerous goods rules.
    IataDgr,
    /// IEC 60063, preferred numbers for resistors and capacitors.
    Iec60063,
    /// Erickson and Maksimović, losses of a switching converter.
    SwitchingLosses,
    /// JCGM 100:2008, guide to the expression of uncertainty in measurement.
    Jcgm100,
    /// Iglewicz and Hoaglin 1993, outliers by the median.
    IglewiczHoaglin,
    /// Thue 1892, densest packing of circles.
    Thue,
    /// Incropera and DeWitt, conduction shape factors; Bernardi, Pawlikowski and Newman 1985, heat of a cell.
    Incropera,
}

/// A source in words, as the working shows it.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct SourceText {
    /// The key that figures cite.
    pub key: Source,
    /// Name of the source, with where it was read or "from memory".
    pub text: &'static str,
}

impl Source {
    /// Every source there is, for the reference list.
    pub const ALL: [Source; 28] = [
        Source::Arithmetic,
        Source::Plan,
        Source::PartSheet,
        Source::CommonPractice,
        Source::Assumed,
        Source::CircuitLaw,
        Source::FanLaws,
        Source::Iec62133,
        Source::Iec62368,
        Source::Iec61960,
        Source::Iec60028,
        Source::AstmB258,
        Source::Iec60228,
        Source::Iec60364,
        Source::Iso8820,
        Source::Iec60127,
        Source::MetalsHandbook,
        Source::ChurchillChu,
        Source::Chen2020,
        Source::Ai2020,
        Source::Prada2013,
        Source::IataDgr,
        Source::Iec60063,
        Source::SwitchingLosses,
        Source::Jcgm100,
        Source::IglewiczHoaglin,
        Source::Thue,
        Source::Incropera,
    ];

    /// The source in words.
    pub fn text(self) -> &'static str {
        match self {
            Source::Arithmetic => "Arithmetic: follows from the definitions",
            Source::Plan => "Typed into this plan",
            Source::PartSheet => "The part's own stated figure",
            Source::CommonPractice => "Common practice, no source",
            Source::Assumed => "Assumed by this program until measured",
            Source::CircuitLaw => "Ohm's and Kirchhoff's laws",
            Source::FanLaws => "Affinity laws of fans and pumps; motor speed in proportion to voltage",
            Source::Iec62133 => "IEC 62133-2, upper limit of charge voltage (from memory)",
            Source::Iec62368 => "IEC 62368-1, limit of touch voltage ES1, 60 V DC (from memory)",
            Source::Iec61960 => "IEC 61960-3, designation of cells and batteries (from memory)",
            Source::Iec60028 => "IEC 60028, resistance of annealed copper: 1.7241e-8 ohm m at 20 C, +0.393 % per K",
            Source::AstmB258 => "ASTM B258, diameter of American wire gauge sizes",
            Source::Iec60228 => "IEC 60228, class 5 flexible conductors, highest resistance at 20 C (from memory)",
            Source::Iec60364 => {
                "IEC 60364-4-43 and 60364-5-54, short-time current of insulated conductors, I²t = (kS)² (from memory)"
            }
            Source::Iso8820 => "ISO 8820-3, operating times of blade fuses (from memory, least sure for 1 and 2 A)",
            Source::Iec60127 => "IEC 60127-2, miniature cartridge fuses (from memory)",
            Source::MetalsHandbook => {
                "Handbook of chemistry and physics, resistivity and heat capacity of metals (from memory)"
            }
            Source::ChurchillChu => {
                "Churchill and Chu 1975, free convection from a horizontal cylinder (from memory), with radiation"
            }
            Source::Chen2020 => "Chen et al. 2020, J. Electrochem. Soc. 167, 080534: open-circuit curve, computed",
            Source::Ai2020 => "Ai et al. 2020, J. Electrochem. Soc. 167, 013512: open-circuit curve, computed",
            Source::Prada2013 => {
                "Prada et al. 2013, J. Electrochem. Soc. 160, A616, and Afshar et al. 2017: open-circuit curve, computed"
            }
            Source::Iec60063 => "IEC 60063, preferred number series for resistors and capacitors",
            Source::SwitchingLosses => {
                "Erickson and Maksimović, Fundamentals of Power Electronics, chapters 2 and 3 (from memory)"
            }
            Source::Jcgm100 => "JCGM 100:2008, guide to the expression of uncertainty in measurement",
            Source::Thue => {
                "Thue 1892, proved by Fejes Tóth 1940: circles cover at most π/√12 of the plane (from memory)"
            }
            Source::IglewiczHoaglin => {
                "Iglewicz and Hoaglin 1993, How to Detect and Handle Outliers: modified z-score above 3.5 (from memory)"
            }
            Source::Incropera => {
                "Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, table 4.1; Bernardi, Pawlikowski and Newman 1985, J. Electrochem. Soc. 132, 5: heat of a cell (from memory)"
            }
            Source::IataDgr => "IATA dangerous goods regulations, batteries in passenger baggage (from memory)",
        }
    }
}
