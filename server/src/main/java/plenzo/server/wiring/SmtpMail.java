package plenzo.server.wiring;

import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Date;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import org.jspecify.annotations.Nullable;
import plenzo.core.target.Mail;
import plenzo.core.target.TargetFailed;
import plenzo.core.telling.Letter;
import plenzo.server.PlenzoSettings;
import plenzo.server.PlenzoSettings.MailServer;

/** Hands letters to a server by SMTP, one connection each, bounded in time. */
final class SmtpMail implements Mail {
  private static final String PATIENCE_MS = "10000";

  private final MailServer server;
  private final String reachedAt;

  private SmtpMail(MailServer server, String reachedAt) {
    this.server = server;
    this.reachedAt = reachedAt;
  }

  static Mail of(PlenzoSettings settings) {
    MailServer server = settings.mail();
    return server == null
        ? Mail.NONE
        : new SmtpMail(server, settings.reachedAt().replaceAll("/+$", ""));
  }

  @Override
  public Optional<Server> server() {
    return Optional.of(new Server(server.host(), server.port()));
  }

  @Override
  public String reachedAt() {
    return reachedAt;
  }

  @Override
  public void send(Letter letter, List<String> addresses) {
    Session session = Session.getInstance(properties(addresses));
    try {
      MimeMessage message = new Identified(session, letter.id());
      message.setFrom(new InternetAddress(server.from(), /* strict= */ true));
      message.setRecipient(
          Message.RecipientType.TO, new InternetAddress(letter.to(), /* strict= */ true));
      message.setSubject(letter.subject(), StandardCharsets.UTF_8.name());
      message.setText(letter.text(), StandardCharsets.UTF_8.name());
      message.setHeader(
          "Auto-Submitted", "auto-generated"); // RFC 3834: nobody answers it by machine
      message.setSentDate(new Date());
      message.saveChanges();
      try (Transport transport = session.getTransport("smtp")) {
        if (server.account().isEmpty()) {
          transport.connect();
        } else {
          transport.connect(server.account(), password(server.passwordFile()));
        }
        transport.sendMessage(message, message.getAllRecipients());
      }
    } catch (MessagingException | IOException e) {
      throw new TargetFailed(
          "The mail server " + server.host() + ":" + server.port() + " did not take it: " + why(e),
          /* notReachable= */ true,
          e);
    }
  }

  /** The first line of what the server or the network said. */
  private static String why(Exception e) {
    String text = String.valueOf(e.getMessage()).strip();
    return text.lines().findFirst().orElse(e.getClass().getSimpleName());
  }

  private Properties properties(List<String> addresses) {
    Properties p = new Properties();
    boolean plain = server.tls().equals("none");
    // with TLS the name is checked by the certificate; without it is not asked for a second time
    p.setProperty(
        "mail.smtp.host", plain && !addresses.isEmpty() ? addresses.get(0) : server.host());
    p.setProperty("mail.smtp.port", String.valueOf(server.port()));
    p.setProperty("mail.smtp.auth", String.valueOf(!server.account().isEmpty()));
    p.setProperty("mail.smtp.starttls.enable", String.valueOf(server.tls().equals("starttls")));
    p.setProperty("mail.smtp.starttls.required", String.valueOf(server.tls().equals("starttls")));
    p.setProperty("mail.smtp.ssl.enable", String.valueOf(server.tls().equals("tls")));
    p.setProperty("mail.smtp.ssl.checkserveridentity", "true");
    p.setProperty("mail.smtp.localhost", "plenzo");
    for (String sort : List.of("connectiontimeout", "timeout", "writetimeout")) {
      p.setProperty("mail.smtp." + sort, PATIENCE_MS);
    }
    return p;
  }

  private static String password(@Nullable Path file) throws IOException {
    return file == null ? "" : Files.readString(file).strip();
  }

  /** Says an id by which receivers tell that it is sent again. */
  private static final class Identified extends MimeMessage {
    private final String id;

    Identified(Session session, String id) {
      super(session);
      this.id = id;
    }

    @Override
    protected void updateMessageID() throws MessagingException {
      setHeader("Message-ID", "<" + id + "@plenzo>");
    }
  }
}
