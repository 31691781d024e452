package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.api.Page;
import plenzo.api.Rehearsals.RehearsalPart;
import plenzo.api.Rehearsals.RehearsalView;

/** What a rehearsal says of itself, and with which code its watching ends. */
class RehearsalTest {
  private static final Instant AT = Instant.parse("2027-03-02T22:00:00Z");

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static RehearsalView rehearsal(String result, boolean ofThisPlan, @Nullable Double last) {
    return new RehearsalView(
        "RH-3",
        "P-15",
        "fares",
        "2.6.1",
        "production/north",
        "r8dh-573x-x2ak",
        ofThisPlan,
        "ines",
        AT,
        result.equals("going-on") ? null : AT.plusSeconds(4),
        result,
        result.equals("going-on") ? "" : "What came of it.",
        List.of(
            new RehearsalPart("Copy the database", AT, 2.5, "3 tables with 8 rows copied"),
            new RehearsalPart("Carry out the plan", AT, last, last == null ? "refused" : "")),
        List.of("1 definition of host: a host has no place of its own for it"),
        false,
        /* draft= */ null);
  }

  @Test
  void aDraftIsTriedAndSaysThatItIsOne() {
    RehearsalView tried =
        new RehearsalView(
            "RH-4",
            "",
            "fares",
            "2.7.0",
            "test/main",
            "",
            true,
            "ines",
            AT,
            AT.plusSeconds(2),
            "failed",
            "1 blocker at test/main: Something.",
            List.of(),
            List.of(),
            false,
            "D-7");
    server.give("POST /drafts/D-7/try", tried).give("GET /rehearsals/RH-4", tried);

    CannedServer.Said said =
        server.client("rehearsal", "try", "D-7", "--at", "test/main", "--wait");

    assertThat(said.code()).isEqualTo(Failed.RUN_FAILED);
    assertThat(said.out())
        .contains("RH-4 of D-7 failed", "none yet", "1 blocker at test/main: Something.");
    assertThat(server.asked()).anyMatch(a -> a.contains("\"site\":\"test/main\""));
  }

  @Test
  void whatWasDoneAndWhatWasNotIsRead() {
    server.give("GET /rehearsals/RH-3", rehearsal("proven", true, 1.0));

    assertThat(server.client("rehearsal", "show", "RH-3").out())
        .contains("RH-3 of P-15 came through", "fares@2.6.1 at a copy of production/north")
        .contains("What came of it.", "by ines, took 4.0 s")
        .contains("1. Copy the database  2.5 s  3 tables with 8 rows copied")
        .containsSubsequence("Not rehearsed:", "- 1 definition of host")
        .doesNotContain("not its plan any more");
  }

  @Test
  void oneOfAnotherPlanAndOneThatDidNotEndSaySo() {
    server.give("GET /rehearsals/RH-3", rehearsal("failed", false, null));

    assertThat(server.client("rehearsal", "show", "RH-3").out())
        .contains("which is not its plan any more")
        .contains("2. Carry out the plan  did not end  refused");
  }

  @ParameterizedTest
  @CsvSource({"proven, 0", "carried-out, 0", "failed, 9", "stopped, 11"})
  void watchingEndsWithACodeOfItsOwn(String result, int code) {
    server.give("POST /promotions/P-15/rehearse", rehearsal("going-on", true, null));
    server.give("GET /rehearsals/RH-3", rehearsal(result, true, 1.0));

    assertThat(server.client("rehearsal", "start", "P-15", "--wait").code()).isEqualTo(code);
  }

  @Test
  void withoutWaitingItSaysHowToFollowAndOneIsStopped() {
    server.give("POST /promotions/P-15/rehearse", rehearsal("going-on", true, null));
    server.give("POST /rehearsals/RH-3/stop", rehearsal("going-on", true, null));

    assertThat(server.client("rehearsal", "start", "P-15").out())
        .contains("RH-3 has begun. Next: plenzo rehearsal show RH-3");
    assertThat(server.client("rehearsal", "stop", "RH-3").out())
        .contains("RH-3 stops at its next step");
  }

  @Test
  void theListSaysWhetherThePlanIsStillThat() {
    server.give(
        "GET /rehearsals",
        new Page<>(
            List.of(rehearsal("proven", true, 1.0), rehearsal("stopped", false, 1.0)), null));

    assertThat(server.client("rehearsal", "list").out())
        .containsSubsequence("came through", "as it is now", "was stopped", "another");
  }
}
