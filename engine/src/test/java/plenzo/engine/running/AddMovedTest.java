package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.row;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Objects;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;
import plenzo.engine.kit.ScriptedDatabase;
import plenzo.engine.setup.SiteLook;
import plenzo.store.DiskFiles;

/** What people change between the backup and the moment when they are kept out joins it. */
class AddMovedTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
  }

  /** Just before users are kept out somebody works there. */
  private void meanwhile(Runnable works) {
    kit.host().script.once(At.MAINTENANCE, works);
  }

  private static String note(Run run) {
    return run.steps().stream()
        .filter(s -> s.act() == Act.ADD_MOVED)
        .map(RunStep::note)
        .findFirst()
        .orElseThrow();
  }

  private static Run.Backup backup(Run run) {
    return Objects.requireNonNull(run.backup());
  }

  @Test
  void nothingIsAddedWhereNothingMoved() {
    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(note(run)).isEqualTo("Nothing moved since the backup");
    assertThat(backup(run).proof()).doesNotContain("added");
    assertThat(run.steps())
        .extracting(RunStep::act)
        .containsSubsequence(Act.BACK_UP, Act.PROVE, Act.CLOSE, Act.ADD_MOVED, Act.SWITCH);
  }

  @Test
  void goingBackKeepsWhatPeopleChangedUntilTheyWereKeptOut() {
    ScriptedDatabase.Base there = kit.production();
    there.row(BAND, row("GONE", "1.00"));
    meanwhile(
        () -> {
          there.row(BAND, row("DAY", "11.00"));
          there.row(BAND, row("NIGHT", "5.00"));
          there.gone(BAND, "GONE");
        });

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(note(run)).contains("3 rows that moved since then added, read back only");
    assertThat(backup(run).rows()).isEqualTo(3);
    Promotion back = kit.back(Plan.Way.BACKUP);
    assertThat(kit.run(back).state()).isEqualTo(RunState.DONE);
    assertThat(there.value(BAND, "DAY", "amount")).isEqualTo("11.00");
    assertThat(there.value(BAND, "NIGHT", "amount")).isEqualTo("5.00");
    assertThat(there.value(BAND, "PEAK", "amount")).isEqualTo("20.00");
    assertThat(there.keys(BAND)).as("stays gone").doesNotContain("GONE");
  }

  /** After a pause it is done once more; a kill then must leave what the records know. */
  @Test
  void whatIsAddedASecondTimeLeavesTheFirstAdditionAsItIs() {
    meanwhile(() -> kit.production().row(BAND, row("DAY", "11.00")));
    Run.Backup first = backup(kit.bring("1.1.0"));
    kit.production().row(BAND, row("DAY", "12.00"));
    BackupFile file = new BackupFile(new DiskFiles(folder.resolve("data/files")), first.file());

    Run.Backup second;
    kit.production().row(BAND, row("PEAK", "20.00"));
    try (SiteLook look = look()) {
      second = file.addMoved(look.tables(), first, kit.clock.instant(), rows -> {});
    }

    assertThat(second.digest()).isNotEqualTo(first.digest());
    assertThat(second.bytes()).as("pieces count on").isGreaterThan(first.bytes());
    file.readBack(first);
    file.readBack(second);
  }

  private SiteLook look() {
    return new SiteLook(
        "production",
        java.util.Map.of(
            plenzo.core.component.Kind.Holder.DATABASE,
            kit.databases.look(
                new plenzo.core.target.Access(
                    "production", 5432, "production", "a", "disable", "s"))));
  }

  @Test
  void killedBeforeTheRecordsKnowItTheBackupIsAsItWas() {
    meanwhile(() -> kit.production().row(BAND, row("DAY", "11.00")));
    kit.production().script.killAt(At.SWITCH);
    long number = kit.bringUntilKilled("1.1.0");
    Run.Backup added = backup(kit.run(number));
    assertThat(added.proof()).contains("1 row that moved");

    kit.restart();
    kit.recover();

    assertThat(kit.run(number).state()).isEqualTo(RunState.STOPPED);
    kit.bring("1.1.0");
    assertThat(kit.way(Plan.Way.BACKUP).possible()).isTrue();
  }

  @Test
  void aStructureThatMovedMeanwhileStopsTheRunUnchanged() {
    meanwhile(
        () ->
            kit.production()
                .column(BAND, "amount", ScriptedDatabase.column("amount", "numeric(8,2)"), false));

    Run run = kit.bring("1.1.0");

    assertThat(run.state()).isEqualTo(RunState.STOPPED);
    assertThat(run.sentence()).contains("The structure of fares.band was changed after it was");
    assertThat(kit.host().maintenance).as("everybody is in again").isFalse();
  }

  @Test
  void theListOfBeforeStaysUsableBesideTheLaterOne() throws Exception {
    meanwhile(() -> kit.production().row(BAND, row("DAY", "11.00")));
    Run run = kit.bring("1.1.0");
    Path backup = folder.resolve("data/files").resolve(backup(run).file());

    assertThat(backup.resolve("tables.json")).exists();
    assertThat(backup.resolve("tables-later.json")).exists();
    assertThat(Files.readString(backup.resolve("0.csv"))).contains("10.00");
    assertThat(Files.readString(backup.resolve("0-later.csv"))).contains("11.00");
    assertThat(Files.readString(backup.resolve("sheet.txt"))).contains("0-later.csv  fares.band");
  }
}
