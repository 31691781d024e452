package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.row;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionHead;
import plenzo.engine.comparing.SameRows;
import plenzo.engine.kit.KitTest;

/** What a case says beside what differs: the versions that come along, and what is the same. */
class WhatComesTest extends KitTest {
  private List<String> brought(Promotion p) {
    return kit.engine().notes().brought(p).stream()
        .map(VersionHead::number)
        .map(SemVer::text)
        .toList();
  }

  @Test
  void namesTheVersionsThatTheStageSkipped() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.development().row(BAND, row("PEAK", "26.00"));
    kit.sealFrom("1.2.0", "1.1.0");

    assertThat(brought(kit.prepare("1.2.0"))).containsExactly("1.2.0", "1.1.0");
    assertThat(brought(kit.prepare("1.1.0"))).containsExactly("1.1.0");
  }

  @Test
  void namesNoneWhereOneGoesBack() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");

    assertThat(brought(kit.back(Plan.Way.EARLIER_VERSION))).isEmpty();
  }

  private List<String> same(Promotion p) {
    List<String> out = new ArrayList<>();
    int n =
        p.components().stream().map(c -> c.key().toString()).toList().indexOf("records/" + BAND);
    try (SameRows rows = kit.engine().comparer().same(p, n)) {
      for (RowDifference r = rows == null ? null : rows.next(); r != null; r = rows.next()) {
        out.add(r.any().keyLine() + " " + r.attributes(/* same= */ true).size());
      }
    }
    return out;
  }

  @Test
  void listsTheRowsThatAreTheSame() {
    for (String code : List.of("A", "M", "Z")) {
      kit.production().row(BAND, row(code, "1.00"));
      kit.development().row(BAND, row(code, "1.00"));
    }
    kit.adopt();
    kit.development().row(BAND, row("M", "2.00")).row(BAND, row("NEW", "3.00"));
    kit.production().row(BAND, row("OWN", "4.00"));
    kit.seal("1.1.0");

    assertThat(same(kit.prepare("1.1.0")))
        .containsExactly("\"A\" 2", "\"DAY\" 2", "\"PEAK\" 2", "\"Z\" 2");
  }

  @Test
  void doesNotLookThemUpInABackup() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");

    assertThat(same(kit.back(Plan.Way.BACKUP))).isEmpty();
  }
}
