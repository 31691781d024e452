package plenzo.server.wiring;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.internet.MimeMessage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.target.Mail;
import plenzo.core.target.TargetFailed;
import plenzo.core.telling.Letter;
import plenzo.server.PlenzoSettings;
import plenzo.server.PlenzoSettings.MailServer;

/** Letters reach a real mail server, whole, and nothing of them becomes a head of its own. */
class SmtpMailTest {
  @TempDir Path folder;
  private GreenMail server;

  @BeforeEach
  void start() {
    server = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
    server.start();
  }

  @AfterEach
  void stop() {
    server.stop();
  }

  private Mail mail(String tls, String account, @Nullable Path password) {
    return SmtpMail.of(
        new PlenzoSettings(
            folder,
            folder.resolve("key"),
            List.of(),
            List.of(),
            null,
            List.of(),
            "",
            10,
            Duration.ofMinutes(15),
            Duration.ofHours(24),
            Duration.ofMinutes(5),
            "https://plenzo.example/",
            null,
            new MailServer(
                "mail.morrowick.example",
                server.getSmtp().getPort(),
                "plenzo@morrowick.example",
                tls,
                account,
                password)));
  }

  private void send(Mail mail, Letter letter) {
    mail.send(letter, List.of("127.0.0.1"));
  }

  private static Letter letter(String subject) {
    return new Letter("bram@morrowick.example", subject, "Zone 7 – done\n.\nReally\n", "svc-7");
  }

  @Test
  void aLetterArrivesWholeUnderItsId() throws Exception {
    Mail mail = mail("none", "", null);
    send(mail, letter("Half written: färe 2.4.0"));

    MimeMessage got = server.getReceivedMessages()[0];
    assertThat(got.getSubject()).isEqualTo("Half written: färe 2.4.0");
    assertThat(String.valueOf(got.getContent()).replace("\r", "").strip())
        .isEqualTo("Zone 7 – done\n.\nReally");
    assertThat(got.getHeader("Message-ID")).containsExactly("<svc-7@plenzo>");
    assertThat(got.getHeader("Auto-Submitted")).containsExactly("auto-generated");
    assertThat(got.getFrom()[0]).hasToString("plenzo@morrowick.example");
    assertThat(mail.reachedAt()).isEqualTo("https://plenzo.example");
    assertThat(mail.server()).hasValueSatisfying(s -> assertThat(s.port()).isPositive());
  }

  @Test
  void aSubjectWithLineBreaksAddsNoHead() throws Exception {
    send(mail("none", "", null), letter("One\r\nBcc: all@morrowick.example"));

    MimeMessage got = server.getReceivedMessages()[0];
    assertThat(got.getHeader("Bcc")).isNull();
    assertThat(server.getReceivedMessages()).hasSize(1);
  }

  @Test
  void anAccountSignsInWithThePasswordOfItsFile() throws Exception {
    server.setUser("plenzo@morrowick.example", "plenzo", "s3cret");
    Path password = Files.writeString(folder.resolve("mail-password"), "s3cret\n");
    send(mail("none", "plenzo", password), letter("In"));
    assertThat(server.getReceivedMessages()).hasSize(1);

    Path wrong = Files.writeString(folder.resolve("wrong"), "guess");
    assertThatThrownBy(() -> send(mail("none", "plenzo", wrong), letter("In")))
        .isInstanceOf(TargetFailed.class)
        .hasMessageStartingWith("The mail server mail.morrowick.example:")
        .hasMessageNotContaining("guess");
  }

  @Test
  void aConnectionThatIsNotMadePrivateIsNotUsed() {
    assertThatThrownBy(() -> send(mail("starttls", "", null), letter("Plain")))
        .isInstanceOf(TargetFailed.class);
    assertThat(server.getReceivedMessages()).isEmpty();
  }

  @Test
  void oneThatIsAwayIsSaid() {
    Mail mail = mail("none", "", null);
    server.stop();

    assertThatThrownBy(() -> send(mail, letter("Away"))).isInstanceOf(TargetFailed.class);
  }
}
