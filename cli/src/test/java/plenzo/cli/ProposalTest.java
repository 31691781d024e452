package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Page;
import plenzo.api.Promotions.MayView;
import plenzo.api.Proposals.ProposalView;

/** Changes by two, as the client reads and answers them. */
class ProposalTest {
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

  private static ProposalView change(String state, @Nullable String second, boolean may) {
    return new ProposalView(
        "CH-4",
        "the path ordinary",
        "production asks no more: 2 approvals",
        List.of("production"),
        "admin",
        AT,
        state,
        second,
        second == null ? null : AT.plusSeconds(60),
        second == null ? "" : "as talked about",
        state.equals("open") ? List.of("bram", "ines") : List.of(),
        may
            ? new MayView(true, null, "", List.of())
            : new MayView(
                false, "own", "Who asked for CH-4 is not its second person.", List.of("bram")),
        false);
  }

  @Test
  void whatWaitsSaysWhatItChangesAndHowToAgree() {
    server.give("GET /proposals/CH-4", change("open", null, true));

    assertThat(server.client("proposal", "show", "CH-4").out())
        .containsSubsequence(
            "CH-4 of the path ordinary waits for a second person.",
            "production asks no more: 2 approvals",
            "for production",
            "asked for by admin",
            "Nothing is changed yet. You may: plenzo proposal agree CH-4");
  }

  @Test
  void whoAskedForItReadsWhomToAsk() {
    server.give("GET /proposals/CH-4", change("open", null, false));

    assertThat(server.client("proposal", "show", "CH-4").out())
        .contains("not its second person. Who may: bram, ines.");
  }

  @Test
  void agreeingAndDecliningSendTheNoteAndSayWhatCameOfIt() {
    server.give("POST /proposals/CH-4/agree", change("agreed", "bram", false));
    server.give("POST /proposals/CH-4/decline", change("declined", "bram", false));
    server.give("POST /proposals/CH-4/withdraw", change("withdrawn", null, false));

    assertThat(server.client("proposal", "agree", "CH-4", "--note", "as talked about").out())
        .contains("made by two", "agreed by bram", ": as talked about")
        .doesNotContain("Nothing is changed yet");
    assertThat(last()).isEqualTo("POST /proposals/CH-4/agree {\"note\":\"as talked about\"}");
    server.client("proposal", "decline", "CH-4", "--note", "not now");
    assertThat(last()).isEqualTo("POST /proposals/CH-4/decline {\"note\":\"not now\"}");
    server.client("proposal", "withdraw", "CH-4");
    assertThat(last()).isEqualTo("POST /proposals/CH-4/withdraw {\"note\":null}");
    assertThat(server.client("proposal", "decline", "CH-4").code()).isEqualTo(2);
  }

  private String last() {
    return server.asked().get(server.asked().size() - 1);
  }

  @Test
  void theListNamesTheSecondOrThoseWhoMayBe() {
    server.give(
        "GET /proposals",
        new Page<>(
            List.of(
                change("open", null, true),
                change("agreed", "tove", false),
                change("alone", null, false)),
            null));

    assertThat(server.client("proposal", "list").out())
        .containsSubsequence(
            "waits for a second person",
            "bram or ines",
            "made by two",
            "tove",
            "made by one: nobody else administered");
  }
}
